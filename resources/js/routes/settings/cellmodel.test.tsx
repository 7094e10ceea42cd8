import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act } from 'react';
import { createRoot, type Root } from 'react-dom/client';
import { afterEach, describe, expect, it } from 'vitest';
import { CellModel } from './CellModels';

(globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;

let root: Root | null = null;
const open = (model: Parameters<typeof CellModel>[0]['model']) => {
    const box = document.body.appendChild(document.createElement('div'));
    act(() =>
        (root = createRoot(box)).render(
            <QueryClientProvider client={new QueryClient()}>
                <CellModel model={model} onClose={() => {}} />
            </QueryClientProvider>,
        ),
    );
    const field = (label: string) => {
        const of = [...document.querySelectorAll('label')].find((l) => l.textContent?.startsWith(label));
        return document.getElementById(of?.htmlFor ?? '') as HTMLInputElement | HTMLSelectElement;
    };
    return field;
};
afterEach(() => {
    act(() => root?.unmount());
    document.body.innerHTML = '';
});

describe('a cell model', () => {
    it('opens with what is known of it, prices as they are said', () => {
        const field = open({
            id: 3,
            name: 'QD-31',
            about: 'nmc 18650 3 Ah',
            price_cents: 430,
            version: '"2"',
            chemistry: 'lfp',
            spec: { format: '18650', capacity_ah: 3, full_v: 3.65 },
        });
        expect(field('Cell model').value).toBe('QD-31');
        expect(field('Chemistry').value).toBe('lfp');
        expect(field('Price of one').value).toBe('4.30');
        expect(field('Full, V').value).toBe('3.65');
        expect(field('Cut-off, V').value).toBe('');
    });
    it('asks for name, rating and price, and says what is wrong with a number', async () => {
        open(null);
        await act(async () => document.querySelector('form')!.requestSubmit());
        const said = document.body.textContent ?? '';
        expect(said.match(/a number is wanted here/g)).toHaveLength(2);
        expect(said).toContain('a word is wanted here');
    });
});
