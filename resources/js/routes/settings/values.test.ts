import { expect, it } from 'vitest';
import { initials } from '@/lib/format';
import { device } from '../people/Sessions';
import { detail } from '../people/SecurityLog';
import { parse, shown } from './values';

const money = { kind: 'money', default: null } as const;

it('shows cents as an amount and takes an amount as cents, with a comma or a point', () => {
    expect(shown(money, 480)).toBe('4.80');
    expect(shown(money, null)).toBe('');
    expect([parse(money, '4.80'), parse(money, '4,8'), parse(money, ' 71 '), parse(money, '0.29')]).toEqual([480, 480, 7100, 29]);
    expect(parse(money, '')).toBeNull();
    expect(parse(money, 'much')).toBeUndefined();
});

it('takes a number as it is, a switch as yes or no, and an empty text as the default', () => {
    expect(parse({ kind: 'percent', default: 0 }, '12,5')).toBe(12.5);
    expect([parse({ kind: 'switch', default: false }, 'yes'), shown({ kind: 'switch', default: false }, false)]).toEqual([true, 'no']);
    expect([parse({ kind: 'time', default: null }, ''), parse({ kind: 'lines', default: '' }, '')]).toEqual([null, '']);
});

it('tells devices apart without listing what a browser says of itself', () => {
    expect(device('Mozilla/5.0 (Linux; Android 14) x')).toBe('a tablet or telephone');
    expect(device('Mozilla/5.0 (X11; Linux x86_64)')).toBe('Linux machine');
    expect(device('')).toBe('a device');
});

it('says what a log entry holds in words', () => {
    expect(detail({ changed: { rate_cents: { from: 6000, to: 7100 } }, second_factor: true })).toBe(
        'changed rate_cents from 6000 to 7100, second factor yes',
    );
    expect(detail({ fields: ['name', 'phone'], note: null })).toBe('fields name, phone, note nothing');
});

it('takes first and last letter of a name', () => {
    expect(['Orla Penn', 'Orla', 'Orla van der Penn', ''].map(initials)).toEqual(['OP', 'O', 'OP', '']);
});
