import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act } from 'react';
import { createRoot, type Root } from 'react-dom/client';
import { renderToStaticMarkup } from 'react-dom/server';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { Tabs, useTab } from '@/parts/Tabs';
import { Budget } from './Budget';
import type { BuildData } from './Build';
import { readPlaces, withPlace, writePlaces } from './rows';
import { SheetView } from './SheetView';

(globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;

const link = (element: string, title: string, continuous_a: number | null, margin: number | null) => ({
    element,
    title,
    continuous_a,
    peak_a: null,
    peak_s: null,
    margin,
    state: continuous_a === null ? ('unknown' as const) : (margin ?? 0) < 0 ? ('short' as const) : ('carries' as const),
    note: `${title} note`,
});
const data: BuildData = {
    inputs: { budget: { wire: { awg: 16 }, soh: 0.9 }, layout: {} },
    budget: {
        load_a: 14,
        peak_a: 20,
        how: 'the controller',
        chain: [link('cells', 'Cells', 30, 1.1), link('wire', 'Main wire', 12.6, -0.1), link('switch', 'Switch', null, null)],
        weakest: 'main wire, 12.6 A',
        findings: [{ code: 'fuse.absent', text: 'There is no fuse' }],
        fuse: { rating_a: null, text: 'No fuse fits', have_ok: false },
        adiabatic: 'A short would draw some 700 A',
        assumed: ['30 mohm a cell'],
    },
    layout: null,
    layout_refused: '40 cells do not fit',
    groups_v: null,
    gauge: null,
};

let root: Root | null = null;
const mount = (node: React.ReactNode) => {
    const box = document.body.appendChild(document.createElement('div'));
    act(() => (root = createRoot(box)).render(<QueryClientProvider client={new QueryClient()}>{node}</QueryClientProvider>));
    return box;
};
afterEach(() => {
    act(() => root?.unmount());
    document.body.innerHTML = '';
});

describe('the current budget', () => {
    it('shows load, chain, the weakest link and every finding', () => {
        const html = renderToStaticMarkup(
            <MemoryRouter>
                <Budget job={7} data={data} keep={async () => {}} />
            </MemoryRouter>,
        );
        for (const text of [
            '14.0 A',
            'Main wire',
            '12.6 A',
            'not known',
            'main wire, 12.6 A',
            'There is no fuse',
            'The one entered is not',
            '700 A',
            '/jobs/7/intake?field=pack.cell',
        ])
            expect(html).toContain(text);
    });
    it('marks by sign and not by colour alone what falls short', () => {
        expect(
            renderToStaticMarkup(
                <MemoryRouter>
                    <Budget job={7} data={data} keep={async () => {}} />
                </MemoryRouter>,
            ),
        ).toContain('▼ -10 %');
    });
    it('starts from what was kept and keeps numbers as numbers, empty ones not at all', async () => {
        const keep = vi.fn(async (_: Record<string, unknown>) => {});
        const box = mount(
            <MemoryRouter>
                <Budget job={7} data={data} keep={keep} />
            </MemoryRouter>,
        );
        await act(async () => box.querySelector('form')!.requestSubmit());
        expect(keep).toHaveBeenCalledWith({ wire: { awg: 16 }, soh: 0.9 });
    });
    it('reads a decimal comma', async () => {
        const keep = vi.fn(async (_: Record<string, unknown>) => {});
        const box = mount(
            <MemoryRouter>
                <Budget job={7} data={{ ...data, inputs: { budget: { soh: '0,85' }, layout: {} } as BuildData['inputs'] }} keep={keep} />
            </MemoryRouter>,
        );
        await act(async () => box.querySelector('form')!.requestSubmit());
        expect(keep).toHaveBeenCalledWith({ soh: 0.85 });
    });
});

describe('the build sheet', () => {
    it('says what does not fit instead of drawing', () => {
        const html = renderToStaticMarkup(<SheetView job={{ id: 3 } as never} data={data} keep={async () => {}} />);
        expect(html).toContain('40 cells do not fit');
        expect(html).not.toContain('Order of work');
    });
});

describe('tabs', () => {
    const tabs = [
        ['a', 'First'],
        ['b', 'Second'],
    ] as const;
    function Probe() {
        const at = useTab(tabs);
        return (
            <>
                <Tabs label="Views" tabs={tabs} at={at} />
                <output>{at}</output>
            </>
        );
    }
    it('follow the address and change it', () => {
        const box = mount(
            <MemoryRouter initialEntries={['/x?do=b']}>
                <Probe />
            </MemoryRouter>,
        );
        expect(box.querySelector('output')!.textContent).toBe('b');
        act(() => box.querySelectorAll('button')[0]!.click());
        expect(box.querySelector('output')!.textContent).toBe('a');
        expect(box.querySelector('[aria-current="page"]')!.textContent).toBe('First');
    });
    it('fall back to the first when the address knows no such view', () => {
        const box = mount(
            <MemoryRouter initialEntries={['/x?do=zzz']}>
                <Probe />
            </MemoryRouter>,
        );
        expect(box.querySelector('output')!.textContent).toBe('a');
    });
});

describe('places left empty', () => {
    it('are read as they are typed, and refused when they are none', () => {
        expect(readPlaces('')).toEqual([]);
        expect(readPlaces(' 0 0; 3,2 ;')).toEqual([
            [0, 0],
            [3, 2],
        ]);
        expect(readPlaces('corner')).toBeNull();
        expect(readPlaces('1 2 3')).toBeNull();
        expect(readPlaces('-1 2')).toBeNull();
        expect(writePlaces(readPlaces('4 1;0 2')!)).toBe('4 1; 0 2');
    });

    it('come and go by a touch', () => {
        expect(withPlace('', '2 1')).toBe('2 1');
        expect(withPlace('2 1', '0 0')).toBe('2 1; 0 0');
        expect(withPlace('2 1; 0 0', '2 1')).toBe('0 0');
        expect(withPlace('nonsense', '2 1')).toBe('2 1');
    });
});
