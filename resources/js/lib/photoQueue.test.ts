// @vitest-environment node
import 'fake-indexeddb/auto';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { PhotoProblem, PhotoQueue, type SendPhoto, type Waiting } from './photoQueue';

let n = 0;
const file = (name: string) => new File([new Uint8Array([1, 2, 3])], name, { type: 'image/jpeg' });
const settled = async (queue: PhotoQueue, ready: () => boolean) => {
    for (let k = 0; k < 200 && !ready(); k++) await new Promise((r) => setTimeout(r, 5));
    expect(ready(), JSON.stringify(queue.snapshot())).toBe(true);
};
const begin = async (send: SendPhoto, mine: (p: Waiting) => boolean = () => true, name = `q${n++}`) => {
    const queue = new PhotoQueue(send, mine, name);
    await queue.load();
    return queue;
};
afterEach(() => vi.useRealTimers());

describe('photos on their way', () => {
    it('are kept first and gone when the server has them, one after another, each under one name', async () => {
        const sent: string[] = [];
        const told: number[] = [];
        const queue = await begin(async (p, blob, progress) => {
            expect(blob.size).toBe(3);
            progress(0.5);
            told.push(queue.snapshot().sending!.share);
            sent.push(p.name);
        });
        await queue.add([file('a.jpg'), file('b.jpg')], 'job:1', 7, 'label');
        await settled(queue, () => queue.snapshot().items.length === 0);
        expect(sent).toEqual(['a.jpg', 'b.jpg']);
        expect(told).toEqual([0.5, 0.5]);
    });
    it('wait where there is no network, go on after a reload, and are the same photos then', async () => {
        const ids: string[] = [];
        let away = true;
        const send: SendPhoto = async (p) => {
            ids.push(p.id);
            if (away) throw new PhotoProblem('away', 'No network');
        };
        const name = `q${n++}`;
        const first = await begin(send, () => true, name);
        await first.add([file('a.jpg')], 'phone:x', null);
        await settled(first, () => first.snapshot().away !== '');
        expect(first.snapshot().items[0]).toMatchObject({ state: 'waits', to: 'phone:x' });
        away = false;
        const reloaded = await begin(send, () => true, name);
        await settled(reloaded, () => reloaded.snapshot().items.length === 0);
        expect(new Set(ids).size).toBe(1);
    });
    it('are tried again by themselves and as soon as the network is said to be back', async () => {
        let tries = 0;
        const queue = await begin(async () => {
            if (++tries < 3) throw new PhotoProblem('away', 'No network');
        });
        await queue.add([file('a.jpg')], 'job:1', 7);
        await settled(queue, () => tries === 1);
        queue.wake();
        await settled(queue, () => tries === 2);
        queue.wake();
        await settled(queue, () => queue.snapshot().items.length === 0);
        expect(queue.snapshot().away).toBe('');
    });
    it('tell what was refused for good, go on with the next, and are left out by a word', async () => {
        const queue = await begin(async (p) => {
            if (p.name === 'page.svg') throw new PhotoProblem('refused', 'This is no photo.');
        });
        await queue.add([file('page.svg'), file('b.jpg')], 'job:1', 7);
        await settled(queue, () => queue.snapshot().items.length === 1 && queue.snapshot().items[0]!.state === 'refused');
        expect(queue.snapshot().items[0]!.why).toBe('This is no photo.');
        await queue.dismiss(queue.snapshot().items[0]!.id);
        expect(queue.snapshot().items).toEqual([]);
    });
    it('go out under nobody else\u2019s name, and nowhere before their job is there', async () => {
        const sent: string[] = [];
        let who = 8;
        const queue = await begin(
            async (p) => void sent.push(p.to),
            (p) => p.person === who,
        );
        await queue.add([file('a.jpg')], 'draft:7', 7);
        await queue.add([file('b.jpg')], 'job:3', 7);
        await new Promise((r) => setTimeout(r, 30));
        expect(sent).toEqual([]);
        who = 7;
        queue.wake();
        await settled(queue, () => sent.length === 1);
        await queue.retarget('draft:7', 'job:9');
        await settled(queue, () => sent.length === 2);
        expect(sent).toEqual(['job:3', 'job:9']);
    });
});
