// @vitest-environment jsdom
import { cleanup, render, screen } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, it } from 'vitest';
import type { Job } from '@/api/client';
import { CameBack } from './JobFrame';

afterEach(cleanup);
const came = {
    job_id: 4,
    number: 14,
    returned_at: '2026-01-09T10:00:00Z',
    days: 1,
    promise: { sentence: 'This work is promised.', runs: true },
    suggests: { cause: 'our-work' as const, words: 'our own work', why: 'Joint 3 is loose: "Replace the group" was done there' },
    causes: [],
    cause: null,
};
const show = (more: object) =>
    render(
        <MemoryRouter>
            <CameBack job={{ pack_id: 7 } as Job} came={{ ...came, ...more }} />
        </MemoryRouter>,
    );

describe('a job of a pack that went back before', () => {
    it('says after how long, by which job, under which promise, and why as far as anything tells', () => {
        show({});
        expect(screen.getByRole('link', { name: 'Back after 1 day' }).getAttribute('href')).toBe('/packs/7');
        expect(screen.getByRole('link', { name: 'job 14' }).getAttribute('href')).toBe('/jobs/4/report');
        const text = screen.getByRole('navigation', { name: 'It came back' }).textContent;
        expect(text).toContain('The promise runs.');
        expect(text).toContain('Looks like our own work: Joint 3 is loose');
    });
    it('says that a promise has ended, and nothing of what nothing tells', () => {
        show({ promise: { ...came.promise, runs: false }, suggests: null, days: 400 });
        const text = screen.getByRole('navigation').textContent;
        expect(text).toContain('Back after 400 days');
        expect(text).toContain('The promise has ended.');
        expect(text).not.toContain('Looks like');
        cleanup();
        show({ promise: null });
        expect(screen.getByRole('navigation').textContent).not.toContain('promise');
    });
});
