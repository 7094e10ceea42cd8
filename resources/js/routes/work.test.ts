import { describe, expect, it } from 'vitest';
import { doorOf } from './Work';

describe('the door from the work to the room where it is done', () => {
    it.each([
        ['recover-group', '/jobs/7/supply?do=recover'],
        ['recover-pack', '/jobs/7/supply?do=recover'],
        ['charge-pack', '/jobs/7/supply?do=charge'],
        ['balance', '/jobs/7/supply?do=balance'],
        ['wake-board', '/jobs/7/supply?do=wake'],
        ['rebuild', '/jobs/7/build'],
        ['build', '/jobs/7/build'],
        ['replace-board', '/jobs/7/build'],
    ])('%s', (action, to) => {
        expect(doorOf(action, 7)?.to).toBe(to);
    });

    it('has none for what hands alone do', () => {
        for (const action of ['none', 'recycle', 'clean-joint', 'relabel']) expect(doorOf(action, 7)).toBeNull();
    });
});
