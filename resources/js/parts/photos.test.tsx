import 'fake-indexeddb/auto';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Job } from '@/api/client';
import { slots } from '@/lib/slots';
import { AgreedWords, OverCeiling } from '../routes/intake/Agreed';
import { LookStrip } from '../routes/job/LookStrip';
import { KnownPack, visit } from './KnownPack';
import { LabelPhoto, Photos } from './Photos';
import { ReportPhotos } from './ReportPhotos';

const call = vi.hoisted(() => ({ POST: vi.fn(), PATCH: vi.fn(), GET: vi.fn(), DELETE: vi.fn() }));
const may = vi.hoisted(() => ({ intake: true }));
vi.mock('@/lib/bench', () => ({
    useMay: () => may.intake,
    usePerson: () => ({ id: 7, name: 'Tobiah Reeve', workshop: { currency: 'EUR' } }),
}));
vi.mock('@/api/client', async (original) => ({
    ...(await original<object>()),
    api: call,
    unwrap: (answer: Promise<unknown>) => answer,
}));

const photo = (id: string, more: object = {}) => ({
    id,
    version: '"1"',
    width: 400,
    height: 300,
    about: '',
    note: '',
    marks: [],
    on_report: false,
    by: 'Tobiah Reeve',
    phone: false,
    at: '2026-11-20T09:00:00Z',
    ...more,
});
const job = { id: 3, status: 'open', name: 'Deck scooter', agreed: null, look: null } as unknown as Job;
let client: QueryClient;
const show = (node: React.ReactNode, photos: object[] = []) => {
    client = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity } } });
    client.setQueryData(slots.photos(3), { photos, phone_until: null });
    return render(
        <MemoryRouter>
            <QueryClientProvider client={client}>{node}</QueryClientProvider>
        </MemoryRouter>,
    );
};
beforeEach(() => {
    may.intake = true;
    Object.values(call).forEach((f) => f.mockReset());
    call.GET.mockResolvedValue({ photos: [], phone_until: null });
});
afterEach(cleanup);

describe('photos of a job', () => {
    it('are lazy small ones that say what they show, and open large', () => {
        show(<Photos job={job} />, [photo('a', { about: 'seal', marks: [{ x: 0.2, y: 0.4, text: 'torn' }] }), photo('b')]);
        const small = document.querySelectorAll('img');
        expect([...small].map((i) => [i.getAttribute('src'), i.getAttribute('loading')])).toEqual([
            ['/api/photos/a/small', 'lazy'],
            ['/api/photos/b/small', 'lazy'],
        ]);
        fireEvent.click(screen.getByRole('button', { name: /the seal, 1 mark/ }));
        const sheet = screen.getByRole('dialog');
        expect(within(sheet).getByRole('img').getAttribute('src')).toBe('/api/photos/a/whole');
        expect(within(sheet).getByRole('button', { name: /Mark 1: torn/ }).style.left).toBe('20%');
    });
    it('take marks by a touch, move them by arrows within the picture, and keep them as shares of it', async () => {
        call.PATCH.mockResolvedValue({});
        show(<Photos job={job} />, [photo('a')]);
        fireEvent.click(screen.getByRole('button', { name: /Photo of/ }));
        const sheet = within(screen.getByRole('dialog'));
        const image = sheet.getByRole('img');
        image.getBoundingClientRect = () => ({ left: 100, top: 50, width: 400, height: 200 }) as DOMRect;
        fireEvent.click(image, { clientX: 200, clientY: 250 });
        fireEvent.change(sheet.getByLabelText('Mark 1', { selector: 'input' }), { target: { value: 'hidden screw' } });
        const mark = sheet.getByRole('button', { name: /Mark 1: hidden screw/ });
        fireEvent.keyDown(mark, { key: 'ArrowRight' });
        fireEvent.keyDown(mark, { key: 'ArrowDown' });
        fireEvent.click(sheet.getByLabelText('on the report'));
        fireEvent.click(sheet.getByRole('button', { name: 'Keep it' }));
        await waitFor(() =>
            expect(call.PATCH.mock.lastCall![1].body).toEqual({
                marks: [{ x: 0.27, y: 1, text: 'hidden screw' }],
                about: '',
                note: '',
                on_report: true,
            }),
        );
        expect(call.PATCH.mock.lastCall![1].params.header['If-Match']).toBe('"1"');
    });
    it('are only looked at where somebody may not add, and by all on a closed job', () => {
        may.intake = false;
        show(<Photos job={job} />, [photo('a', { marks: [{ x: 0.1, y: 0.1, text: 'here' }] })]);
        expect(screen.queryByText('Add photos')).toBeNull();
        fireEvent.click(screen.getByRole('button', { name: /Photo of/ }));
        expect(screen.queryByRole('button', { name: 'Keep it' })).toBeNull();
        expect(screen.getByText('here')).toBeTruthy();
        cleanup();
        may.intake = true;
        show(<Photos job={{ ...job, status: 'returned' }} />, [photo('a')]);
        expect(screen.queryByText('Add photos')).toBeNull();
    });
    it('stand on the report when they were chosen, with their marks told, and the label beside its fields', () => {
        show(<ReportPhotos job={3} />, [photo('a', { on_report: true, note: 'lid', marks: [{ x: 0, y: 0, text: '' }] }), photo('b')]);
        expect(screen.getAllByRole('figure')).toHaveLength(1);
        expect(screen.getByText('marked')).toBeTruthy();
        cleanup();
        show(<LabelPhoto job={3} />, [photo('old', { about: 'label' }), photo('new', { about: 'label' }), photo('c')]);
        expect(screen.getByRole('img').getAttribute('src')).toBe('/api/photos/new/whole');
        cleanup();
        const { container } = show(<ReportPhotos job={3} />, [photo('b')]);
        expect(container.textContent).toBe('');
    });
});

describe('what is owed and known at the door', () => {
    it('asks for the look that is owed with one touch, and names who stands by at high voltage', async () => {
        call.POST.mockResolvedValue(job);
        const owed = { ...job, look: { moment: 'open', text: 'The case is open now.', second_person: true } } as unknown as Job;
        show(<LookStrip job={owed} />);
        fireEvent.change(screen.getByLabelText(/Who stands by/), { target: { value: ' Maren ' } });
        fireEvent.click(screen.getByRole('button', { name: 'None of these' }));
        await waitFor(() => expect(call.POST.mock.lastCall![1].body).toMatchObject({ moment: 'open', second_person: 'Maren' }));
        expect(Object.values(call.POST.mock.lastCall![1].body.inspection)).not.toContain(true);
        cleanup();
        show(<LookStrip job={owed} />);
        fireEvent.click(screen.getByRole('button', { name: /Leaking/ }));
        await waitFor(() => expect(call.POST.mock.lastCall![1].body.inspection).toEqual({ leaking: true }));
        cleanup();
        expect(show(<LookStrip job={job} />).container.textContent).toBe('');
    });
    it('tells a known pack by its visits, this one counted', () => {
        expect([0, 1, 2, 9, 10].map(visit)).toEqual(['first', 'second', 'third', 'tenth', '11th']);
        const at = (n: number) => ({
            id: n,
            number: n,
            name: 'Drill',
            status: 'returned' as const,
            opened_at: '2026-10-01T08:00:00Z',
            found: null,
            promise_until: null,
            cause: null,
        });
        const told = { found: 'Group 3 is dead', promise_until: '2027-03-01T00:00:00Z', cause: 'our own work' };
        show(<KnownPack visits={[{ ...at(4), ...told }, at(2)]} />);
        expect(screen.getByText(/promised until .*2027/)).toBeTruthy();
        expect(screen.getByText(/had come back: our own work/)).toBeTruthy();
        expect(screen.getByText('Known pack, third visit.')).toBeTruthy();
        expect(screen.getByText(/Group 3 is dead/)).toBeTruthy();
        expect(screen.getAllByRole('link').map((l) => l.getAttribute('href'))).toEqual(['/jobs/4', '/jobs/2']);
        cleanup();
        expect(show(<KnownPack visits={[]} />).container.textContent).toBe('');
    });
    it('says when work costs more than was agreed to without a call, and whom to call', () => {
        const agreed = {
            id: 1,
            said_by: 'The mate',
            how: 'phone' as const,
            terms: ['opening'],
            words: ['The case is opened.'],
            ceiling_cents: 12000,
            may_call: '0400 55',
            signature: null,
            by: 'Tobiah Reeve',
            at: '2026-11-20T09:00:00Z',
        };
        const known = { ...job, agreed } as unknown as Job;
        show(<OverCeiling job={known} cents={12001} />);
        expect(document.body.textContent).toMatch(/More than was agreed.*The mate, 0400 55/);
        cleanup();
        expect(show(<OverCeiling job={known} cents={12000} />).container.textContent).toBe('');
        cleanup();
        expect(show(<OverCeiling job={job} cents={99999} />).container.textContent).toBe('');
        cleanup();
        show(<AgreedWords of={agreed} />);
        expect(screen.getByText('The case is opened.')).toBeTruthy();
        expect(document.body.textContent).toMatch(/by phone.*taken by Tobiah Reeve.*May be called: 0400 55/);
    });
});
