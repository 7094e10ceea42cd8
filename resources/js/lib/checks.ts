/** How a check of the proof stands: its sign and its ink. */
export const STATUS = {
    passed: { sign: '✓', ink: 'text-moss' },
    failed: { sign: '✗', ink: 'text-ember' },
    missing: { sign: '◌', ink: 'text-amber' },
    'not-needed': { sign: '–', ink: 'text-muted' },
};
