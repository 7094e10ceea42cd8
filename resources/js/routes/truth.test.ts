import { describe, expect, it } from 'vitest';
import { provedOf, truthOf } from './Truth';

const found = [
    { key: 'a', was: { code: 'group.dead', where: { group: 4 } } },
    { key: 'b', was: { code: 'bms.latched', where: null } },
];
const none = { code: '', seen: '' };

describe('what it was in the end', () => {
    it('sends nothing while nobody has said anything', () => {
        expect(truthOf({}, found, none)).toBeUndefined();
        expect(truthOf({ a: '' }, found, none)).toBeUndefined();
    });

    it('sends what somebody saw, with its place and how', () => {
        expect(truthOf({ a: 'opened', b: '' }, found, none)).toEqual([{ code: 'group.dead', where: { group: 4 }, seen_by: 'opened' }]);
    });

    it('sends an empty list when what was said was not so: nothing was wrong', () => {
        expect(truthOf({ a: 'not' }, found, none)).toEqual([]);
    });

    it('sends something else than was said, seen or not', () => {
        expect(truthOf({ a: 'not' }, found, { code: 'path.fuse-open', seen: 'replaced' })).toEqual([
            { code: 'path.fuse-open', seen_by: 'replaced' },
        ]);
        expect(truthOf({}, found, { code: 'path.fuse-open', seen: '' })).toEqual([{ code: 'path.fuse-open' }]);
    });
});

describe('what the work has proved', () => {
    it('fills in what was found at the same place, and nothing else', () => {
        const proved = [
            { code: 'group.dead', where: { group: 4 }, seen_by: 'replaced' as const },
            { code: 'bms.latched', where: { group: 1 }, seen_by: 'tried' as const },
        ];
        expect(provedOf(found, proved)).toEqual({ a: 'replaced' });
        expect(truthOf(provedOf(found, proved), found, none)).toEqual([{ code: 'group.dead', where: { group: 4 }, seen_by: 'replaced' }]);
        expect(provedOf(found, [{ code: 'bms.latched', where: null, seen_by: 'tried' }])).toEqual({ b: 'tried' });
        expect(provedOf(found, [])).toEqual({});
    });
});
