interface Read {
    from: string;
    to: string;
    v: number;
}

/** Volts of each group from B-, as far as readings across it, or of both its taps against one point, tell; null where none do. */
export function bandVolts(readings: Read[], series: number): (number | null)[] {
    const of = (from: string, to: string) => readings.find((r) => r.from === from && r.to === to)?.v ?? null;
    return Array.from({ length: series }, (_, i) => {
        const across = of(`T${i}`, `T${i + 1}`);
        if (across !== null) return across;
        const low = i === 0 ? 0 : of('T0', `T${i}`);
        const high = of('T0', `T${i + 1}`);
        return low === null || high === null ? null : high - low;
    });
}
