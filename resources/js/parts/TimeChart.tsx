import { useEffect, useRef } from 'react';
import { useDim } from '@/lib/dim';
import uPlot from 'uplot';
import 'uplot/dist/uPlot.min.css';

/** Volts of every group over time; one is drawn strong, the rest thin. */
export default function TimeChart({
    time,
    groups,
    strong,
    label,
    height = 260,
}: {
    time: number[];
    groups: (number | null)[][];
    strong: number | null;
    label: string;
    height?: number;
}) {
    const box = useRef<HTMLDivElement>(null);
    const chart = useRef<uPlot | null>(null);
    const dim = useDim();
    const drawn: uPlot.AlignedData = [time.map((t) => t / 60), ...groups];
    const latest = useRef(drawn);
    const count = groups.length;
    useEffect(() => {
        latest.current = drawn;
    });
    // Built anew only when what is drawn is another chart; new samples are handed to the one that stands.
    useEffect(() => {
        const el = box.current;
        if (!el) return;
        const css = getComputedStyle(document.documentElement);
        const ink = css.getPropertyValue('--ink').trim();
        const line = css.getPropertyValue('--line').trim();
        const ember = css.getPropertyValue('--ember').trim();
        const thin = css.getPropertyValue('--muted').trim();
        const axis = { stroke: ink, grid: { stroke: line, width: 1 }, ticks: { stroke: line }, font: '14px "Atkinson Hyperlegible Next"' };
        const plot = new uPlot(
            {
                width: el.clientWidth,
                height,
                legend: { show: false },
                cursor: { show: false },
                scales: { x: { time: false } },
                axes: [
                    { ...axis, label: 'minutes', labelSize: 22, labelFont: axis.font },
                    { ...axis, label: 'V', labelSize: 22, labelFont: axis.font, size: 56 },
                ],
                series: [
                    {},
                    ...Array.from({ length: count }, (_, i) => ({
                        stroke: i + 1 === strong ? ember : thin,
                        width: i + 1 === strong ? 3.5 : 1,
                        points: { show: false },
                    })),
                ],
            },
            latest.current,
            el,
        );
        chart.current = plot;
        const resize = new ResizeObserver(() => plot.setSize({ width: el.clientWidth, height }));
        resize.observe(el);
        return () => {
            resize.disconnect();
            plot.destroy();
            chart.current = null;
        };
    }, [count, strong, height, dim]);
    useEffect(() => chart.current?.setData(drawn));
    return <div ref={box} role="img" aria-label={label} style={{ minHeight: height }} />;
}
