import { act } from 'react';
import { createRoot, type Root } from 'react-dom/client';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { useDraft } from './useDraft';

(globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;

const EMPTY = { text: '' };
let root: Root;
let api: ReturnType<typeof useDraft<typeof EMPTY>>;

function Form({ name }: { name: string }) {
    api = useDraft(name, EMPTY);
    return <p>{api[0].text}</p>;
}

const mount = (name = 'a') =>
    act(() => (root = createRoot(document.body.appendChild(document.createElement('div')))).render(<Form name={name} />));

describe('a draft', () => {
    beforeEach(() => localStorage.clear());
    afterEach(() => act(() => root.unmount()));

    it('survives the screen that it was typed on', () => {
        mount();
        act(() => api[1]({ text: 'half typed' }));
        act(() => root.unmount());
        mount();
        expect(api[0].text).toBe('half typed');
    });
    it('is gone once it was sent, and stays gone', () => {
        mount();
        act(() => api[1]({ text: 'sent' }));
        act(() => api[2]());
        expect(localStorage.length).toBe(0);
        act(() => api[1]({ text: 'after' }));
        expect(localStorage.length).toBe(0);
    });
    it('is none any more once it is blank again, and one again when something is typed', () => {
        mount();
        act(() => api[1]({ text: 'typed' }));
        act(() => api[1]({ text: '' }));
        expect(localStorage.length).toBe(0);
        act(() => api[1]({ text: 'more' }));
        act(() => root.unmount());
        mount();
        expect(api[0].text).toBe('more');
    });
    it('keeps drafts of other names apart', () => {
        mount('one');
        act(() => api[1]({ text: 'first' }));
        act(() => root.unmount());
        mount('two');
        expect(api[0].text).toBe('');
    });
    it('starts afresh from something unreadable', () => {
        localStorage.setItem('heartwood.draft.a', '{');
        mount();
        expect(api[0]).toEqual(EMPTY);
    });
});
