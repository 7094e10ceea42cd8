import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { type Entry, Outbox, type SendAnswer, SendProblem } from './outbox';

/** A server that stores each number once and in order, and can be away. */
class Server {
    away = false;
    losesAnswers = false;
    refuse = new Set<string>();
    boxes = new Map<string, number>();
    stored: Entry[] = [];
    calls = 0;

    send = async (outboxId: string, entries: Entry[]): Promise<SendAnswer> => {
        this.calls++;
        if (this.away) throw new SendProblem('away', 'away');
        const results: SendAnswer['results'] = [];
        for (const e of entries) {
            const last = this.boxes.get(outboxId) ?? 0;
            if (e.seq <= last) results.push({ seq: e.seq, id: e.id, status: 'duplicate', errors: {} });
            else if (e.seq !== last + 1) throw new SendProblem('gap', `send from ${last + 1}`, last + 1);
            else {
                this.boxes.set(outboxId, e.seq);
                const refused = this.refuse.has(String(e.data['typed']));
                if (!refused) this.stored.push(e);
                results.push({
                    seq: e.seq,
                    id: e.id,
                    status: refused ? 'refused' : 'stored',
                    errors: refused ? { typed: 'no number' } : {},
                });
            }
        }
        if (this.losesAnswers) throw new SendProblem('away', 'the answer got lost');
        return { results, last_seq: this.boxes.get(outboxId) ?? 0, check: null };
    };
}

let n = 0;
let name = '';
let server: Server;
beforeEach(() => {
    name = `box-${n++}`;
    server = new Server();
});

const open = (person = 1) => Outbox.open(person, server.send, name);
const typed = () => server.stored.map((e) => e.data['typed']);

describe('outbox', () => {
    it('sends what is added, in order, and is empty then', async () => {
        const box = await open();
        for (const t of ['1', '2', '3']) await box.add('reading', 7, { typed: t });
        await box.flush();
        expect(typed()).toEqual(['1', '2', '3']);
        expect(server.stored.map((e) => e.seq)).toEqual([1, 2, 3]);
        expect(box.snapshot().waiting).toEqual([]);
    });

    it('keeps a pasted column as one: never called kept on the way, never half of it on the disk', async () => {
        server.away = true;
        const box = await open();
        const column = box.addAll(['1', '2', '3'].map((t) => ({ kind: 'reading' as const, job: 7, data: { typed: t } })));
        expect(box.snapshot().writing).toBe(3);
        const seen: number[] = [];
        box.subscribe(() => seen.push(box.snapshot().waiting.length));
        expect((await column).map((e) => e.seq)).toEqual([1, 2, 3]);
        expect(new Set(seen)).toEqual(new Set([3]));
        expect(box.snapshot().writing).toBe(0);
        // The page that wrote it is gone at once; the next one finds all three.
        const next = await open();
        server.away = false;
        await next.flush();
        expect(typed()).toEqual(['1', '2', '3']);
    });

    it('says that nothing was kept when the disk refuses one of several', async () => {
        const box = await open();
        const cannot = { typed: () => 'a function is nothing a disk takes' };
        await expect(
            box.addAll([
                { kind: 'reading', job: 7, data: { typed: '1' } },
                { kind: 'reading', job: 7, data: cannot },
            ]),
        ).rejects.toThrow();
        expect(box.snapshot()).toMatchObject({ writing: 0, waiting: [] });
        expect(typed()).toEqual([]);
        expect((await box.add('reading', 7, { typed: '2' })).seq).toBe(1);
    });

    it('keeps everything while the server is away, through closing and opening again', async () => {
        server.away = true;
        const box = await open();
        await box.add('reading', 7, { typed: '1' });
        await box.add('reading', 7, { typed: '2' });
        await box.flush();
        expect(box.snapshot().waiting).toHaveLength(2);
        expect(box.snapshot().problem?.kind).toBe('away');
        box.close();
        server.away = false;
        const again = await open();
        expect(again.snapshot().waiting).toHaveLength(2);
        await again.flush();
        expect(typed()).toEqual(['1', '2']);
        expect(again.snapshot().problem).toBeNull();
    });

    it('stores once what was sent twice because the answer was lost', async () => {
        server.losesAnswers = true;
        const box = await open();
        await box.add('reading', 7, { typed: '1' });
        await box.flush();
        expect(box.snapshot().waiting).toHaveLength(1);
        server.losesAnswers = false;
        await box.flush();
        expect(typed()).toEqual(['1']);
        expect(box.snapshot().waiting).toHaveLength(0);
    });

    it("keeps each person's entries apart", async () => {
        server.away = true;
        const one = await open(1);
        await one.add('reading', 7, { typed: 'mine' });
        await one.flush();
        one.close();
        server.away = false;
        const two = await open(2);
        await two.add('reading', 7, { typed: 'theirs' });
        await two.flush();
        expect(typed()).toEqual(['theirs']);
        two.close();
        const back = await open(1);
        await back.flush();
        expect(typed()).toEqual(['theirs', 'mine']);
    });

    it('keeps a refused entry to be dealt with and goes on', async () => {
        server.refuse.add('three');
        const box = await open();
        await box.add('reading', 7, { typed: 'three' });
        await box.add('reading', 7, { typed: '3' });
        await box.flush();
        expect(typed()).toEqual(['3']);
        expect(box.snapshot().refused.map((e) => e.errors)).toEqual([{ typed: 'no number' }]);
        await box.dismiss(box.snapshot().refused[0]!);
        expect(box.snapshot().refused).toEqual([]);
    });

    it('starts a new box when the server has forgotten its numbers, and loses nothing', async () => {
        const box = await open();
        await box.add('reading', 7, { typed: '1' });
        await box.flush();
        server.boxes.clear();
        await box.add('reading', 7, { typed: '2' });
        await box.add('reading', 7, { typed: '3' });
        await box.flush();
        expect(typed()).toEqual(['1', '2', '3']);
        expect(server.boxes.size).toBe(1);
        expect(box.snapshot().waiting).toEqual([]);
    });

    it('sends a long wait in several batches without a gap', async () => {
        server.away = true;
        const box = await open();
        for (let i = 0; i < 120; i++) await box.add('reading', 7, { typed: String(i) });
        await box.flush();
        server.away = false;
        server.calls = 0;
        await box.flush();
        expect(server.calls).toBe(3);
        expect(typed()).toEqual(Array.from({ length: 120 }, (_, i) => String(i)));
    });

    it('takes what is typed before the disk has answered, and never says that all is kept until it has', async () => {
        server.away = true;
        const before = await open();
        await before.add('reading', 7, { typed: '1' });
        before.close();
        server.away = false;
        const box = new Outbox(1, server.send, name);
        expect(box.snapshot().loaded).toBe(false);
        const adding = box.add('reading', 7, { typed: '2' });
        expect(box.snapshot().writing).toBe(1);
        await adding;
        await box.flush();
        expect(box.snapshot()).toMatchObject({ loaded: true, writing: 0, waiting: [] });
        expect(typed()).toEqual(['1', '2']);
    });

    it('says that a disk does not open, refuses what it cannot keep, and tries it again with the next', async () => {
        const real = indexedDB.open;
        indexedDB.open = () => {
            throw new Error('no room');
        };
        const box = new Outbox(1, server.send, name);
        try {
            await box.load();
            expect(box.snapshot()).toMatchObject({ loaded: false, problem: { kind: 'disk' } });
            expect(box.snapshot().problem!.message).toContain('Write the number down. Error: no room');
            await expect(box.add('reading', 7, { typed: '1' })).rejects.toThrow('no room');
            await box.flush();
            expect(box.snapshot()).toMatchObject({ writing: 0, waiting: [], problem: { kind: 'disk' } });
        } finally {
            indexedDB.open = real;
        }
        await box.add('reading', 7, { typed: '2' });
        await box.flush();
        expect(box.snapshot()).toMatchObject({ loaded: true, waiting: [], problem: null });
        expect(typed()).toEqual(['2']);
    });

    it('writes what was under way when the bench was handed over, and sends it only once that person is back', async () => {
        const box = await open();
        box.close();
        await box.add('reading', 7, { typed: '1' });
        await box.flush();
        expect(typed()).toEqual([]);
        box.close();
        const back = await open();
        await back.flush();
        expect(typed()).toEqual(['1']);
    });
});
