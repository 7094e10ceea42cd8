import { useEffect, useRef } from 'react';
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
    useEffect(() => {
        const el = box.current;
        if (!el) return;
        const css = getComputedStyle(document.documentElement);
        const ink = css.getPropertyValue('--ink').trim();
        const line = css.getPropertyValue('--line').trim();
        const ember = css.getPropertyValue('--ember').trim();
        const thin = css.getPropertyValue('--muted').trim();
        const axis = { stroke: ink, grid: { stroke: line, width: 1 }, ticks: { stroke: line }, font: '14px "Atkinson Hyperlegible Next"' };
        const chart = new uPlot(
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
                    ...groups.map((_, i) => ({
                        stroke: i + 1 === strong ? ember : thin,
                        width: i + 1 === strong ? 3.5 : 1,
                        points: { show: false },
                    })),
                ],
            },
            [time.map((t) => t / 60), ...groups],
            el,
        );
        const resize = new ResizeObserver(() => chart.setSize({ width: el.clientWidth, height }));
        resize.observe(el);
        return () => {
            resize.disconnect();
            chart.destroy();
        };
    }, [time, groups, strong, height]);
    return <div ref={box} role="img" aria-label={label} style={{ minHeight: height }} />;
}
