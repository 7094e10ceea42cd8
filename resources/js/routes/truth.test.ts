import { describe, expect, it } from 'vitest';
import { truthOf } from './Truth';

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
