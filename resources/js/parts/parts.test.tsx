import { renderToStaticMarkup } from 'react-dom/server';
import { describe, expect, it } from 'vitest';
import states from '@contract/states.json';
import { fromPack, toPack } from '../routes/intake/PackFields';
import { money, percent, place, sureness, volts } from '../lib/format';
import { Basis } from './basics';
import { type Band, CoreSample, lookOf, wordOf } from './CoreSample';
import { Windows } from './Windows';

const band = (group: number, v: number | null, state: string | null = 'group.ok', probability = 0.95): Band => ({
    group,
    v,
    state,
    probability,
});

describe('core sample', () => {
    it('stacks the groups from B- at the foot to B+ at the crown', () => {
        const svg = renderToStaticMarkup(<CoreSample bands={[band(1, 3.701), band(2, 3.702), band(3, 3.703)]} />);
        expect(svg.indexOf('>3.703 V<')).toBeLessThan(svg.indexOf('>3.701 V<'));
        expect(svg.indexOf('>B+<')).toBeLessThan(svg.indexOf('>B-<'));
    });
    it('tells every state by a word and a fill of its own', () => {
        const looks = Object.keys(states).map((s) => lookOf(s === 'unread' ? band(1, null) : band(1, 3.7, s)));
        expect(new Set(looks.map((l) => l.word)).size).toBe(looks.length);
        expect(new Set(looks.map((l) => l.fill + l.pattern)).size).toBe(looks.length);
    });
    it('asks when it is not sure, and says "not read" where nothing was read', () => {
        expect(wordOf(band(1, 3.7, 'group.undercharged', 0.5))).toBe('low?');
        expect(wordOf(band(1, 3.7, 'group.undercharged', 0.9))).toBe('low');
        expect(wordOf(band(1, null))).toBe('not read');
    });
    it('reads itself aloud', () => {
        const svg = renderToStaticMarkup(<CoreSample bands={[band(1, 3.7), band(2, null)]} />);
        expect(svg).toContain('group 1 3.700 volts sound');
        expect(svg).toContain('group 2 not read');
    });
    it('draws a doubtful band open', () => {
        const svg = renderToStaticMarkup(<CoreSample bands={[{ ...band(1, 0.0), doubt: true }]} />);
        expect(svg).toContain('stroke-dasharray="9 5"');
        expect(svg).toContain('group 1 0.000 volts ? doubtful');
    });
    it('fits any number of groups into its height', () => {
        for (const n of [1, 4, 14, 40]) {
            const svg = renderToStaticMarkup(<CoreSample bands={Array.from({ length: n }, (_, i) => band(i + 1, 3.7))} height={500} />);
            expect(Number(svg.match(/height="([\d.]+)"/)![1])).toBeLessThanOrEqual(500.01);
        }
    });
});

describe('windows', () => {
    const group = (n: number, mid: number) => ({
        group: n,
        v: 3.7,
        sigma_v: 0.01,
        soc: { low: mid, mid, high: mid },
        state: 'group.ok' as const,
        probability: 0.9,
    });
    const document = {
        format: 'heartwood.verdict' as const,
        version: 1 as const,
        rules: '',
        input_hash: '',
        priors: '',
        safety: { state: 'clear' as const, reasons: [] },
        groups: [group(1, 0.9), group(2, 0.3)],
        findings: [],
        window: { charge_ah: 0.8, discharge_ah: 2.4, first_full: 1, first_empty: 2, apparent_soc: 0.6 },
        lacks: [],
        next_tests: [],
        options: [],
    };
    it('names the group that is full first and the one that is empty first', () => {
        const svg = renderToStaticMarkup(<Windows document={document} />);
        expect(svg).toContain('Group 1 is full after 0.8 Ah more, group 2 is empty after 2.4 Ah');
    });
    it('draws nothing while a group is unread', () => {
        expect(renderToStaticMarkup(<Windows document={{ ...document, window: null }} />)).toBe('');
        expect(renderToStaticMarkup(<Windows document={{ ...document, groups: [group(1, 0.9), { ...group(2, 0), soc: null }] }} />)).toBe(
            '',
        );
    });
});

describe('words and figures', () => {
    it('says whether a number was measured, derived, assumed, predicted or reported', () => {
        for (const of of ['measured', 'derived', 'assumed', 'predicted', 'reported'] as const)
            expect(renderToStaticMarkup(<Basis of={of} />)).toContain(of);
    });
    it('puts sureness in words beside its figure', () => {
        expect([0.99, 0.85, 0.65, 0.45, 0.15].map(sureness)).toEqual([
            'as good as certain',
            'very likely',
            'likely',
            'an even bet',
            'possible',
        ]);
        expect(percent(0.654)).toBe('65 %');
    });
    it('names places and volts', () => {
        expect(place({ joint: 4 })).toBe('joint 4');
        expect(place(null)).toBe('the pack');
        expect(volts(null)).toBe('--');
        expect(volts(3.7)).toBe('3.700 V');
        expect(money(12345, 'EUR')).toMatch(/123[.,]45/);
    });
});

describe('the pack form', () => {
    it('gives back what it was filled from and keeps what it does not show', () => {
        const pack = {
            kind: 'tool',
            chemistry: 'lfp',
            series: 5,
            parallel: 2,
            age_months: 41,
            label: { nominal_v: 16, capacity_ah: 4 },
            cell: { model: 'QL-18', capacity_ah: 2 },
            bms: { series: 5 },
        };
        expect(toPack(fromPack(pack), pack, undefined)).toEqual(pack);
    });
    it('reads a decimal comma and leaves out what is empty', () => {
        const empty = fromPack({ chemistry: 'nmc', series: 10 });
        const form = { ...empty, label: { ...empty.label, full_v: '42,0' } };
        expect(toPack(form, {}, undefined)).toEqual({ kind: 'other', chemistry: 'nmc', series: 10, label: { full_v: 42 } });
    });
    it('takes the chosen cell model along', () => {
        expect(toPack(fromPack({ chemistry: 'nmc', series: 4 }), {}, { model: 'A', capacity_ah: 3 })['cell']).toEqual({
            model: 'A',
            capacity_ah: 3,
        });
    });
});
