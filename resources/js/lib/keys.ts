/**
 * Whether a key is being written into what has the focus. A field of numbers takes no `?`, `/`, `[` or `]`, so those are
 * shortcuts there too; a letter is one only while the field is empty, so that half a number never leaves with the screen.
 */
export function writes(e: Pick<KeyboardEvent, 'target' | 'key'>): boolean {
    const t = e.target;
    if (!(t instanceof HTMLElement)) return false;
    if (t.isContentEditable || ['TEXTAREA', 'SELECT'].includes(t.tagName)) return true;
    if (!(t instanceof HTMLInputElement)) return false;
    if (['checkbox', 'radio', 'button', 'submit', 'file', 'range'].includes(t.type)) return false;
    if (!['decimal', 'numeric'].includes(t.inputMode) && t.type !== 'number') return true;
    return /^[a-z]$/i.test(e.key) ? t.value !== '' : !['?', '/', '[', ']'].includes(e.key);
}
