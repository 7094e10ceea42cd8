// @vitest-environment jsdom
import '@/lib/ownerWords';
import { cleanup, render, screen } from '@testing-library/react';
import i18next from 'i18next';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, it } from 'vitest';
import { blind, seen } from '@/lib/glance';
import { Wall } from '@/routes/packs/Wall';
import { along, type Glance, GlanceMark } from './GlanceMark';

afterEach(cleanup);
const groups = (v: number, inside = v <= 0.1): Glance => ({
    kind: 'groups',
    value_v: v,
    should_v: 0,
    low_v: 0,
    high_v: 0.1,
    sees_v: 0.101,
    flat: false,
    inside,
    at: '2026-11-01T10:00:00Z',
});

describe('one mark on its band', () => {
    it('lies in the band while it is inside, beyond it when it is not, and never off the strip', () => {
        const at = (g: Glance) => along(g);
        expect(at(groups(0)).at).toBe(0);
        expect(at(groups(0.1)).at).toBe(at(groups(0.1)).high);
        expect(at(groups(0.15)).at).toBeGreaterThan(at(groups(0.15)).high);
        expect(at(groups(3)).at).toBe(1);
        const half = { ...groups(-0.2), kind: 'halves' as const, low_v: -0.3, high_v: 0.3 };
        expect(at(half).should).toBeCloseTo(0.5);
        expect(at(half).at).toBeGreaterThan(at(half).low);
        expect(at({ ...half, value_v: -9 }).at).toBe(0);
    });
    it('is said in words, with what it cannot see', () => {
        const t = i18next.t;
        render(<GlanceMark glance={groups(0.034)} label={seen(t, groups(0.034))} />);
        expect(screen.getByRole('img', { name: '34 mV apart, up to 100 mV is right.' })).toBeTruthy();
        expect(blind(t, groups(0.034))).toBe('Sees one group that is 101 mV off.');
        expect(seen(t, { ...groups(0.034), flat: true })).toContain('says little');
        const whole: Glance = { ...groups(37.1, true), kind: 'whole', low_v: 36, high_v: 39, sees_v: 1.2 };
        expect(seen(t, whole)).toBe('37.1 V, between 36.0 and 39.0 V is right.');
        expect(blind(t, { ...whole, kind: 'halves', sees_v: 0.3 })).toContain('not two alike');
    });
});

describe('packs at a glance', () => {
    const row = (id: number, name: string, more: object) => ({
        id,
        name,
        code: 'A',
        serial: '',
        customer: 'Ferry',
        state: 'holds' as const,
        words: '',
        next_at: '2026-12-01T10:00:00Z',
        due: false,
        stopped: false,
        glance: groups(0.02),
        ...more,
    });
    it('shows first what is to be brought in, then what is due', () => {
        render(
            <MemoryRouter>
                <Wall
                    rows={[
                        row(1, 'Alder', {}),
                        row(2, 'Birch', { due: true }),
                        row(3, 'Cedar', { glance: groups(0.2) }),
                        row(4, 'Dogwood', { stopped: true }),
                        row(5, 'Elm', { glance: null }),
                    ]}
                />
            </MemoryRouter>,
        );
        expect(screen.getAllByRole('link').map((l) => l.textContent)).toEqual(['Cedar', 'Dogwood', 'Birch', 'Alder', 'Elm']);
        expect(screen.getAllByText('⬣ Bring it in')).toHaveLength(2);
        expect(screen.getByText('○ Not read yet')).toBeTruthy();
        expect(screen.getByText('A reading is due.')).toBeTruthy();
        expect(screen.getByText(/To be read on Dec/)).toBeTruthy();
    });
});
