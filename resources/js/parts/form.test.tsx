import { cleanup, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { z } from 'zod';
import { ApiError } from '@/api/client';
import { maybeNumeric, numeric, useBenchForm, words } from '@/lib/form';
import { Aside, Field } from './basics';
import { FormChoice, FormNumber, FormText } from './form';
import { NumberField } from './NumberField';
import { Empty, QueryState } from './QueryState';
import { Word } from './Word';

const LOT = z.object({
    lot: z.object({ name: words('the name of the lot.') }),
    kind: z.enum(['new', 'old']),
    rated_ah: numeric({ least: 0.1, most: 400 }),
    count: maybeNumeric({ whole: true }),
});

let sent: z.output<typeof LOT>[] = [];
let form: ReturnType<typeof useBenchForm<z.input<typeof LOT>, z.output<typeof LOT>>>;

function Lot({ slot }: { slot?: string }) {
    form = useBenchForm(LOT, { lot: { name: '' }, kind: 'new', rated_ah: '', count: '' }, slot);
    const at = { control: form.control };
    return (
        <form noValidate onSubmit={form.handleSubmit((body) => void sent.push(body))}>
            <FormText {...at} name="lot.name" label="Lot" />
            <FormChoice {...at} name="kind" label="Kind">
                <option>new</option>
                <option>old</option>
            </FormChoice>
            <FormNumber {...at} name="rated_ah" label="Rated" unit="Ah" />
            <FormNumber {...at} name="count" label="How many" whole />
            <button type="submit">Keep</button>
        </form>
    );
}

function Stored({ name }: { name: string }) {
    const { control } = useBenchForm(z.object({ name: z.string() }), { name });
    return <FormText control={control} name="name" label="Lot" />;
}

const told = (label: string) => {
    const note = screen.getByLabelText(label).getAttribute('aria-describedby');
    return note === null ? null : document.getElementById(note)!.textContent;
};

beforeEach(() => {
    sent = [];
    localStorage.clear();
});
afterEach(cleanup);

describe('a form', () => {
    it('lays a draft of an older form over what it has now, and takes nothing of another kind', () => {
        const kept = { lot: 'crate 4', kind: 'old', rated_ah: '2.85', count: 7, colour: 'red' };
        localStorage.setItem('heartwood.draft.lot', JSON.stringify(kept));
        render(<Lot slot="lot" />);
        expect(form.getValues()).toEqual({ lot: { name: '' }, kind: 'old', rated_ah: '2.85', count: '' });
        cleanup();
        for (const broken of ['{', 'null', '[]', '3']) {
            localStorage.setItem('heartwood.draft.lot', broken);
            render(<Lot slot="lot" />);
            expect(form.getValues()).toEqual({ lot: { name: '' }, kind: 'new', rated_ah: '', count: '' });
            cleanup();
        }
    });

    it('follows what is stored while nobody touched it, and keeps what a hand began', async () => {
        const { rerender } = render(<Stored name="crate 4" />);
        rerender(<Stored name="crate 5" />);
        await waitFor(() => expect(screen.getByLabelText('Lot')).toHaveProperty('value', 'crate 5'));
        await userEvent.type(screen.getByLabelText('Lot'), ' b');
        rerender(<Stored name="crate 6" />);
        expect(screen.getByLabelText('Lot')).toHaveProperty('value', 'crate 5 b');
    });

    it('sends what was typed as the body, with its numbers read', async () => {
        render(<Lot />);
        await userEvent.type(screen.getByLabelText('Lot'), ' crate 4 ');
        await userEvent.selectOptions(screen.getByLabelText('Kind'), 'old');
        await userEvent.type(screen.getByLabelText('Rated, Ah'), '2,85');
        await userEvent.click(screen.getByText('Keep'));
        await waitFor(() => expect(sent).toEqual([{ lot: { name: 'crate 4' }, kind: 'old', rated_ah: 2.85, count: undefined }]));
    });

    it('says beside each field what is wanted, sends nothing, and puts the first under the hand', async () => {
        render(<Lot />);
        await userEvent.type(screen.getByLabelText('How many'), '1.5');
        await userEvent.click(screen.getByText('Keep'));
        await waitFor(() => expect(told('Lot')).toBe('Mend this: the name of the lot.'));
        expect(told('Rated, Ah')).toBe('Mend this: a number is wanted here.');
        expect(told('How many')).toBe('Mend this: a whole number, without a point.');
        expect(sent).toEqual([]);
        expect(document.activeElement).toBe(screen.getByLabelText('Lot'));
    });

    it('puts what the server refused beside its field, by the name that the body has', async () => {
        render(<Lot />);
        await userEvent.type(screen.getByLabelText('Lot'), 'crate 4');
        const refused = new ApiError(422, 'invalid', 'No.', { rated_ah: 'no cell has so much.', 'elsewhere.x': 'nobody asked.' });
        let took = false;
        await waitFor(() => (took = form.refused(refused)));
        expect(took).toBe(true);
        await waitFor(() => expect(told('Rated, Ah')).toBe('Mend this: no cell has so much.'));
        expect(document.activeElement).toBe(screen.getByLabelText('Rated, Ah'));
        expect(screen.getByLabelText<HTMLInputElement>('Lot').value).toBe('crate 4');
        expect(form.refused(new ApiError(422, 'invalid', 'No.', { 'elsewhere.x': 'nobody asked.' }))).toBe(false);
        expect(form.refused(new Error('away'))).toBe(false);
    });

    it('keeps what is typed on this machine until it is sent', async () => {
        render(<Lot slot="lot" />);
        await userEvent.type(screen.getByLabelText('Lot'), 'half');
        cleanup();
        render(<Lot slot="lot" />);
        expect(screen.getByLabelText<HTMLInputElement>('Lot').value).toBe('half');
        form.forget();
        cleanup();
        render(<Lot slot="lot" />);
        expect(screen.getByLabelText<HTMLInputElement>('Lot').value).toBe('');
    });

    it('begins anew where what was kept is not readable', () => {
        localStorage.setItem('heartwood.draft.lot', '{"lot":');
        render(<Lot slot="lot" />);
        expect(screen.getByLabelText<HTMLInputElement>('Lot').value).toBe('');
    });
});

describe('a number field', () => {
    function One(more: { why?: string; hint?: string }) {
        const [value, set] = useState('');
        return <NumberField label="Current" unit="A" least={0} most={5} value={value} onChange={set} {...more} />;
    }
    const input = () => screen.getByLabelText<HTMLInputElement>('Current, A');

    it('leaves what is typed as typed, and says how it reads a comma', async () => {
        render(<One hint="of the supply" />);
        expect(told('Current, A')).toBe('of the supply');
        await userEvent.type(input(), '1,25');
        expect(input().value).toBe('1,25');
        expect(told('Current, A')).toBe('read as 1.25 A');
    });

    it('says what is wrong when it is left, not while it is typed', async () => {
        render(<One />);
        await userEvent.type(input(), '6');
        expect(input().getAttribute('aria-invalid')).toBeNull();
        await userEvent.tab();
        expect(told('Current, A')).toBe('Mend this: from 0 to 5 A.');
        expect(input().getAttribute('aria-invalid')).toBe('true');
        await userEvent.clear(input());
        await userEvent.type(input(), '4');
        expect(input().getAttribute('aria-invalid')).toBeNull();
    });

    it('brings up a keyboard of numbers', () => {
        render(<One />);
        expect(input().inputMode).toBe('decimal');
    });
});

describe('what a word means, and why something is asked', () => {
    it('is behind a button that a keyboard reaches, and names itself', () => {
        render(
            <Field label="Rested" why="Volts settle for hours.">
                {(p) => <input {...p} />}
            </Field>,
        );
        const why = screen.getByRole('button', { name: 'Why is this asked?' });
        expect(document.getElementById(why.getAttribute('aria-controls')!)!.textContent).toBe('Volts settle for hours.');
        expect(why.getAttribute('popovertarget')).toBe(why.getAttribute('aria-controls'));
        expect(screen.getByLabelText('Rested').tagName).toBe('INPUT');
    });

    it('comes from the glossary, under the word of the sentence', () => {
        render(
            <p>
                One <Word of="tap">of the taps</Word>, one <Word of="group" />
            </p>,
        );
        expect(screen.getByRole('button', { name: 'of the taps' })).toBeTruthy();
        expect(screen.getByRole('button', { name: 'group' })).toBeTruthy();
        expect(document.body.textContent).toContain('A place between two groups that a probe reaches');
        expect(document.body.textContent).toContain('Handbook: Readings as a network');
    });

    it('says whether it is open', () => {
        render(<Aside sign="taper">The end of a charge.</Aside>);
        expect(screen.getByRole('button').getAttribute('aria-expanded')).toBe('false');
    });
});

describe('an answer that is not there yet', () => {
    const of = (error: Error | null, isFetching: boolean) => ({ error, isFetching, refetch: vi.fn() });
    const show = (state: ReturnType<typeof of>) =>
        render(
            <MemoryRouter>
                <QueryState of={state} what="Opening the drawer ..." />
            </MemoryRouter>,
        );

    it('is waited for with what', () => {
        show(of(null, true));
        expect(screen.getByRole('status').textContent).toBe('Opening the drawer ...');
    });

    it('is asked for again where it was refused', async () => {
        const state = of(new ApiError(503, 'away', 'The server is away.'), false);
        show(state);
        expect(screen.getByRole('alert').textContent).toContain('The server is away.');
        await userEvent.click(screen.getByText('Ask again'));
        expect(state.refetch).toHaveBeenCalledTimes(1);
    });

    it('is not asked for again where there is no such thing', () => {
        show(of(new ApiError(404, 'gone', 'No such job.'), false));
        expect(screen.queryByText('Ask again')).toBeNull();
        expect(screen.getByText('To the bench')).toBeTruthy();
    });

    it('says what to do where there is none', () => {
        render(
            <Empty what="No lot yet.">
                <button>Take one in</button>
            </Empty>,
        );
        expect(screen.getByText('No lot yet.')).toBeTruthy();
        expect(screen.getByText('Take one in')).toBeTruthy();
    });
});
