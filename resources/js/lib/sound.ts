/** Short tones and words for hands that are busy. Muted for good by one key; a browser without them stays silent. */
let context: AudioContext | null = null;
const SLOT = 'heartwood.mute';

export const isMuted = () => localStorage.getItem(SLOT) === 'yes';
export const setMuted = (muted: boolean) => localStorage.setItem(SLOT, muted ? 'yes' : 'no');

const TONES = { taken: [880, 0.12], question: [330, 0.4], alarm: [520, 0.9] } as const;

export function tone(kind: keyof typeof TONES) {
    if (isMuted() || typeof AudioContext === 'undefined') return;
    try {
        context ??= new AudioContext();
        const [pitch, length] = TONES[kind];
        const source = context.createOscillator();
        const volume = context.createGain();
        source.frequency.value = pitch;
        volume.gain.setValueAtTime(0.25, context.currentTime);
        volume.gain.exponentialRampToValueAtTime(0.001, context.currentTime + length);
        source.connect(volume).connect(context.destination);
        source.start();
        source.stop(context.currentTime + length);
    } catch {
        // No sound device: the screen says the same.
    }
}

export function say(words: string) {
    if (isMuted() || !('speechSynthesis' in window)) return;
    window.speechSynthesis.cancel();
    window.speechSynthesis.speak(new SpeechSynthesisUtterance(words));
}
