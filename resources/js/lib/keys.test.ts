import { describe, expect, it } from 'vitest';
import { writes } from './keys';

const field = (html: string) => {
    document.body.innerHTML = html;
    return document.body.firstElementChild as HTMLElement;
};

describe('a key that is written, and one that is a shortcut', () => {
    it.each([
        ['<input inputmode="decimal">', '?', false],
        ['<input inputmode="decimal" value="3.8">', '/', false],
        ['<input inputmode="numeric">', '[', false],
        ['<input type="number">', ']', false],
        ['<input inputmode="decimal">', '3', true],
        ['<input inputmode="decimal">', '-', true],
        ['<input inputmode="decimal">', ',', true],
        ['<input inputmode="decimal">', 'b', false],
        ['<input inputmode="decimal" value="3.8">', 'b', true],
        ['<input>', '?', true],
        ['<input type="search">', '/', true],
        ['<input type="checkbox">', '?', false],
        ['<textarea></textarea>', 'b', true],
        ['<select></select>', 'n', true],
        ['<button></button>', 'n', false],
        ['<div></div>', '?', false],
    ])('%s, %s', (html, key, written) => {
        expect(writes({ target: field(html), key })).toBe(written);
    });

    it('knows no target that is no element', () => {
        expect(writes({ target: null, key: '?' })).toBe(false);
        expect(writes({ target: new EventTarget(), key: '?' })).toBe(false);
    });
});
