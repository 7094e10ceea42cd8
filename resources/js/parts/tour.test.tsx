import { act, cleanup, render, renderHook, screen } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { BenchRow, Job } from '@/api/client';
import { STOPS, useTour } from '@/lib/tour';
import { Balance } from './Balance';
import { JobLine, lasting } from './JobLine';
import { keeping } from './RunAgainstPlan';

const row = (id: number, stage: BenchRow['stage'], safety_state: BenchRow['safety_state'] = 'clear') =>
    ({ id, stage, safety_state }) as BenchRow;

beforeEach(() => localStorage.clear());
afterEach(cleanup);

describe('the walk through the screens', () => {
    it('goes to a pack of this bench that is so far, and to none that is held', () => {
        const jobs = [row(1, 'probe', 'quarantine'), row(2, 'probe'), row(3, 'proof')];
        const to = (title: string) => STOPS.find((s) => s.title === title)!.to(jobs);
        expect(to('Probe')).toBe('/jobs/2/probe');
        expect(to('Proof')).toBe('/jobs/3/proof');
        expect(to('Plan')).toBeNull();
        expect(STOPS[0]!.to([])).toBe('/');
    });

    it('is offered until it was walked or declined, for each person by themselves', () => {
        const { result } = renderHook(() => ({ a: useTour(1), b: useTour(2) }));
        expect(result.current.a).toMatchObject({ fresh: true, step: null });
        act(() => result.current.a.go(0));
        expect(result.current.a).toMatchObject({ fresh: false, step: 0 });
        expect(result.current.b.fresh).toBe(true);
        act(() => result.current.a.go(STOPS.length - 1));
        expect(result.current.a.step).toBe(STOPS.length - 1);
        act(() => result.current.a.go('done'));
        expect(result.current.a).toMatchObject({ fresh: false, step: null });
    });

    it('is not at a stop that there is not', () => {
        localStorage.setItem('heartwood.tour.1', '99');
        expect(renderHook(() => useTour(1)).result.current.step).toBeNull();
        localStorage.setItem('heartwood.tour.1', 'x');
        expect(renderHook(() => useTour(1)).result.current.step).toBeNull();
    });
});

describe('a length of time', () => {
    it.each([
        [0.25, '15 min'],
        [1.49, '89 min'],
        [1.5, '1.5 h'],
        [3, '3 h'],
        [22.33, '22 h'],
        [47.9, '48 h'],
        [48, '2 days'],
        [170, '7 days'],
    ])('of %d h is told as %s', (hours, text) => {
        expect(lasting(hours)).toBe(text);
    });
});

describe('the job as a line of time', () => {
    const line: Job['line'] = {
        earlier: 0,
        open_h: 20,
        sittings: [
            {
                from: '2026-11-20T10:00:00Z',
                to: '2026-11-20T10:40:00Z',
                wait_h: 0,
                marks: [mark('in', 'taken in'), mark('set', '2 sets', 'at rest')],
            },
            {
                from: '2026-11-21T10:00:00Z',
                to: '2026-11-21T18:00:00Z',
                wait_h: 23.3,
                marks: [{ ...mark('run', 'recovery of group 3'), hours: 8 }],
            },
        ],
    };
    function mark(kind: Job['line']['sittings'][number]['marks'][number]['kind'], text: string, more = '') {
        return { kind, text, more, hours: 0 };
    }

    it('tells what was done, for how long, and what it waited', () => {
        render(<JobLine line={line} />);
        const text = screen.getByRole('list', { name: 'The job as a line of time' }).textContent;
        expect(text).toContain('taken in');
        expect(text).toContain('waits 23 h');
        expect(text).toMatch(/recovery of group 3\s+8 h/);
        expect(text).toContain('since then 20 h');
    });

    it('says what several marks were on a touch', () => {
        render(<JobLine line={line} />);
        const more = screen.getByRole('button', { name: '2 sets' });
        expect(document.getElementById(more.getAttribute('aria-controls')!)!.textContent).toBe('at rest');
    });

    it('is nothing where nothing was done, and waits for nothing once closed', () => {
        const { container, rerender } = render(<JobLine line={{ ...line, sittings: [] }} />);
        expect(container.textContent).toBe('');
        rerender(<JobLine line={{ ...line, open_h: 0, earlier: 3 }} />);
        expect(container.textContent).not.toContain('since then');
        expect(container.textContent).toContain('3 sittings before');
        rerender(<JobLine line={{ ...line, open_h: 0, earlier: 1 }} />);
        expect(container.textContent).toContain('1 sitting before');
    });
});

describe('a run against its plan', () => {
    const planned = { to_ah: 2, by_now_ah: 0.5, ah: 0.25, behind_min: 15 };
    it.each([
        [planned, '0.25 of about 2.00 Ah, the plan had 0.50 Ah by now: 15 min behind.'],
        [{ ...planned, ah: 0.6, behind_min: -6 }, '0.60 of about 2.00 Ah, the plan had 0.50 Ah by now: 6 min ahead.'],
        [{ ...planned, ah: 0.49, behind_min: 0.6 }, '0.49 of about 2.00 Ah, as planned.'],
        [{ ...planned, to_ah: null, ah: 0.5, behind_min: 0 }, '0.50 Ah so far, as planned.'],
    ])('%#', (p, text) => {
        expect(keeping(p)).toBe(text);
    });
});

describe('the balance', () => {
    const bar = (decibans: number) => {
        const { container } = render(<Balance decibans={decibans} />);
        const rect = container.querySelector('rect')!;
        return { x: Number(rect.getAttribute('x')), width: Number(rect.getAttribute('width')), fill: rect.getAttribute('fill') };
    };
    it('lies to the right for, to the left and hollow against, and is full at a thousand to one', () => {
        const [f, against, most] = [bar(15), bar(-15), bar(60)];
        expect(f.width).toBeCloseTo(24);
        expect(against.width).toBeCloseTo(24);
        expect(against.x + against.width).toBeCloseTo(f.x);
        expect(against.fill).toBe('none');
        expect(f.fill).not.toBe('none');
        expect(most.width).toBeCloseTo(48);
    });
});

const made: { data: unknown[][] }[] = [];
vi.mock('uplot', () => ({
    default: class {
        data: unknown[][] = [];
        constructor(_: unknown, data: unknown[]) {
            this.data.push(data);
            made.push(this);
        }
        setData(data: unknown[]) {
            this.data.push(data);
        }
        setSize() {}
        destroy() {}
    },
}));

describe('a chart', () => {
    it('is handed new samples, and built anew only when another is drawn', async () => {
        vi.stubGlobal(
            'ResizeObserver',
            class {
                observe() {}
                disconnect() {}
            },
        );
        const { default: TimeChart } = await import('./TimeChart');
        made.length = 0;
        const chart = (time: number[], groups: number[][], strong = 1) => (
            <TimeChart time={time} groups={groups} strong={strong} label="Volts" />
        );
        const { rerender } = render(chart([0, 60], [[3, 3.1]]));
        rerender(chart([0, 60, 120], [[3, 3.1, 3.2]]));
        expect(made).toHaveLength(1);
        expect(made[0]!.data.at(-1)).toEqual([
            [0, 1, 2],
            [3, 3.1, 3.2],
        ]);
        rerender(
            chart(
                [0, 60],
                [
                    [3, 3.1],
                    [3, 3],
                ],
            ),
        );
        expect(made).toHaveLength(2);
        document.documentElement.dataset['light'] = 'dim';
        await vi.waitFor(() => expect(made).toHaveLength(3));
        vi.unstubAllGlobals();
    });
});
