import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { isMuted, say, setMuted, tone } from './sound';

const spoken: string[] = [];
beforeEach(() => {
    localStorage.clear();
    spoken.length = 0;
    vi.stubGlobal(
        'SpeechSynthesisUtterance',
        class {
            constructor(readonly text: string) {}
        },
    );
    Object.defineProperty(window, 'speechSynthesis', {
        configurable: true,
        value: { cancel: () => {}, speak: (u: { text: string }) => spoken.push(u.text) },
    });
});
afterEach(() => vi.unstubAllGlobals());

describe('sound', () => {
    it('speaks the next tap, and is silent once muted, also after a reload', () => {
        say('Tap 4');
        setMuted(true);
        expect(isMuted()).toBe(true);
        say('Tap 5');
        expect(spoken).toEqual(['Tap 4']);
        setMuted(false);
        say('Tap 6');
        expect(spoken).toEqual(['Tap 4', 'Tap 6']);
    });
    it('does without a sound device', () => {
        expect(() => tone('taken')).not.toThrow();
        vi.stubGlobal(
            'AudioContext',
            class {
                constructor() {
                    throw new Error('no device');
                }
            },
        );
        expect(() => tone('alarm')).not.toThrow();
    });
});
