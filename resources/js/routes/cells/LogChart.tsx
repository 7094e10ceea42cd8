import { slots } from '@/lib/slots';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, unwrap } from '@/api/client';
import { Button } from '@/parts/basics';
import { QueryState } from '@/parts/QueryState';
import TimeChart from '@/parts/TimeChart';

/** A log at any zoom: what lies between two times comes in at most a thousand points, lows and highs. */
export default function LogChart({ id }: { id: number }) {
    const [window, setWindow] = useState<{ from: number; to: number } | null>(null);
    const series = useQuery({
        queryKey: slots.series(id, window),
        queryFn: () =>
            unwrap(api.GET('/api/logs/{log}/series', { params: { path: { log: id }, query: { points: 1000, ...(window ?? {}) } } })),
        placeholderData: (before) => before,
    });
    if (!series.data) return <QueryState of={series} what="Fetching the series ..." />;
    if (series.data.t.length < 2) return <p className="text-muted">Of this log nothing is left to draw.</p>;
    const s = series.data;
    const first = s.t[0]!;
    const last = s.t[s.t.length - 1]!;
    const span = last - first;
    const move = (a: number, b: number) => setWindow({ from: first + a * span, to: first + b * span });
    return (
        <div className="grid gap-2">
            <TimeChart time={s.t} groups={[s.v_max, s.v_min]} strong={1} label={`Volts of the log, ${s.rows} rows`} height={240} />
            <div className="flex flex-wrap gap-2">
                <Button onClick={() => move(0.25, 0.75)}>Nearer</Button>
                <Button onClick={() => move(-0.5, 1.5)}>Farther</Button>
                <Button onClick={() => move(-0.5, 0.5)}>Earlier</Button>
                <Button onClick={() => move(0.5, 1.5)}>Later</Button>
                <Button onClick={() => setWindow(null)}>All of it</Button>
            </div>
        </div>
    );
}
