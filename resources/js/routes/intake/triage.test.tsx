import { fireEvent, render, screen, within } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { cleanup } from '@testing-library/react';
import type { Symptom } from '@/lib/format';
import { type Inspection, noneOf, outside, SymptomFields, TriageFields } from './TriageFields';

afterEach(cleanup);

function Held({ start = {}, seen }: { start?: Inspection; seen: (now: Inspection) => void }) {
    const [inspection, set] = useState<Inspection>(start);
    return (
        <TriageFields
            inspection={inspection}
            change={(patch) => {
                const next = { ...inspection, ...patch };
                set(next);
                seen(next);
            }}
        />
    );
}
const press = (name: string | RegExp) => fireEvent.click(screen.getByRole('button', { name }));

describe('triage', () => {
    it('answers all that can be seen by one touch, and leaves salt and the case to their own questions', () => {
        const seen = vi.fn();
        render(<Held seen={seen} />);
        press('None of these');
        const now = seen.mock.lastCall![0] as Inspection;
        expect(Object.keys(now).sort()).toEqual(outside.map((l) => l.key).sort());
        expect(Object.values(now)).not.toContain(true);
        expect('salt_water' in now || 'metal_case' in now).toBe(false);
        expect(screen.getByText(/Metal case/).textContent).toContain('(not looked at)');
    });
    it('takes one touch for a yes, asks what follows from it, and says what nobody looked at', () => {
        const seen = vi.fn();
        render(<Held seen={seen} />);
        expect(screen.queryByRole('group', { name: 'Salt water' })).toBeNull();
        press(/^.?\s*Wet/);
        expect(seen.mock.lastCall![0]).toEqual({ wet: true });
        expect(screen.getByText(/: hold/)).toBeTruthy();
        expect(within(screen.getByRole('group', { name: 'Salt water' })).getByRole('button', { name: 'yes' })).toBeTruthy();
        expect(screen.getByText(/^Not looked at: swollen, leaking/)).toBeTruthy();
        press('None of the others');
        expect(seen.mock.lastCall![0]).toMatchObject({ wet: true, leaking: false });
        expect(screen.queryByText(/^Not looked at/)).toBeNull();
    });
    it('asks of a swollen one how thick it is, and takes a slip of the finger back', () => {
        const seen = vi.fn();
        render(<Held seen={seen} />);
        press(/Swollen/);
        expect(screen.getByLabelText('Flat cell: thickness, mm')).toBeTruthy();
        press(/Swollen/);
        expect(seen.mock.lastCall![0]).toEqual({ swollen: false });
    });
    it('never answers a yes away', () => {
        expect(noneOf({ leaking: true, wet: false })).not.toHaveProperty('leaking');
        expect(noneOf({ leaking: true })).toHaveProperty('wet', false);
    });
});

describe('what is said of a pack', () => {
    it('is found by a word and taken by Enter when one is left, and nothing is sent by it', () => {
        const change = vi.fn();
        render(<SymptomFields chosen={['low-range' as Symptom]} change={change} />);
        const field = screen.getByLabelText('Find what is said');
        const before = screen.getAllByRole('checkbox').length;
        fireEvent.change(field, { target: { value: 'blinks' } });
        expect(screen.getAllByRole('checkbox').length).toBeLessThan(before);
        // What is chosen stays in sight.
        expect(screen.getAllByRole('checkbox', { checked: true })).toHaveLength(1);
        expect(fireEvent.keyDown(field, { key: 'Enter' })).toBe(false);
        expect(change).toHaveBeenCalledTimes(1);
        expect(change.mock.lastCall![0]).toHaveLength(2);
        fireEvent.change(field, { target: { value: 'zzz' } });
        fireEvent.keyDown(field, { key: 'Enter' });
        expect(change).toHaveBeenCalledTimes(1);
    });
});
