import { renderToStaticMarkup } from 'react-dom/server';
import { describe, expect, it } from 'vitest';
import { WatchChart } from './WatchChart';

type Watch = Parameters<typeof WatchChart>[0]['watch'];
const watch = (more: Partial<Watch>): Watch => ({
    job_id: 1,
    work_ended_at: '2026-03-01T12:00:00Z',
    next_at: '2026-03-31T12:00:00Z',
    due: false,
    state: 'grows',
    words: 'It grows',
    over: false,
    notes: [],
    limit_mv: 100,
    last_mv: 30,
    slope: { low: 1, mid: 1.5, high: 2 },
    now_mv: 30,
    reaches: null,
    used: [
        { at: 'a', day: 3, mv: 12, groups_mv: null },
        { at: 'b', day: 14, mv: 30, groups_mv: null },
    ],
    left_out: [],
    groups: [],
    ...more,
});

describe('the spread after the return', () => {
    it('draws every comparable reading, the limit, and the fan of where it goes', () => {
        const svg = renderToStaticMarkup(<WatchChart watch={watch({})} />);
        expect(svg.match(/<circle/g)).toHaveLength(2);
        expect(svg).toContain('day 3, 12 mV; day 14, 30 mV');
        expect(svg).toContain('Limit 100 mV');
        expect(svg).toMatch(/<path d="M[\d.]+ [\d.]+ L/);
    });

    it('draws no fan of one reading, and says so where there is none', () => {
        const one = renderToStaticMarkup(<WatchChart watch={watch({ used: [], slope: null, now_mv: null, last_mv: null })} />);
        expect(one).not.toContain('<path');
        expect(one).toContain('no comparable reading yet');
    });

    it('reaches as far as the day on which the limit is passed', () => {
        const late = renderToStaticMarkup(
            <WatchChart watch={watch({ reaches: { early: null, likely: '2026-08-28T12:00:00Z', late: null } })} />,
        );
        expect(late).toContain('185 d');
    });
});
