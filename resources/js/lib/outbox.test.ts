import 'fake-indexeddb/auto';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { type Entry, Outbox, type SendAnswer, SendProblem } from './outbox';

/** A server that stores each number once and in order, and can be away. */
class Server {
    away = false;
    losesAnswers = false;
    refuse = new Set<string>();
    epoch = 'one';
    asked = 0;
    boxes = new Map<string, number>();
    stored: Entry[] = [];
    calls = 0;

    send = async (outboxId: string, entries: Entry[]): Promise<SendAnswer> => {
        this.calls++;
        if (this.away) throw new SendProblem('away', 'away');
        const results: SendAnswer['results'] = [];
        for (const e of entries) {
            const last = this.boxes.get(outboxId) ?? 0;
            if (e.seq > last + 1) throw new SendProblem('gap', `send from ${last + 1}`, last + 1);
            this.boxes.set(outboxId, Math.max(last, e.seq));
            if (this.stored.some((s) => s.id === e.id)) {
                results.push({ seq: e.seq, id: e.id, status: 'duplicate', errors: {} });
                continue;
            }
            const refused = this.refuse.has(String(e.data['typed']));
            if (!refused) this.stored.push(e);
            results.push({
                seq: e.seq,
                id: e.id,
                status: refused ? 'refused' : 'stored',
                errors: refused ? { typed: 'no number' } : {},
            });
        }
        if (this.losesAnswers) throw new SendProblem('away', 'the answer got lost');
        return { results, last_seq: this.boxes.get(outboxId) ?? 0, epoch: this.epoch, check: null };
    };

    missing = (entries: Pick<Entry, 'id'>[]): Promise<string[]> => {
        this.asked += entries.length;
        return this.away
            ? Promise.reject(new SendProblem('away', 'away'))
            : Promise.resolve(entries.map((e) => e.id).filter((id) => !this.stored.some((s) => s.id === id)));
    };

    /** A backup of it, and what puts that back. */
    backup() {
        const [boxes, stored] = [new Map(this.boxes), [...this.stored]];
        return () => {
            this.boxes = new Map(boxes);
            this.stored = [...stored];
        };
    }
}

let n = 0;
let name = '';
let server: Server;
beforeEach(() => {
    name = `box-${n++}`;
    server = new Server();
});

const open = (person = 1) => Outbox.open(person, server.send, name, server.missing);
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

describe('a page that is left while its disk is still at work', () => {
    const notes = new Map<string, string>();
    beforeEach(() => {
        notes.clear();
        const storage = {
            setItem: (k: string, v: string) => notes.set(k, v),
            getItem: (k: string) => notes.get(k) ?? null,
            removeItem: (k: string) => notes.delete(k),
        };
        vi.stubGlobal(
            'localStorage',
            new Proxy(storage, {
                ownKeys: () => [...notes.keys()],
                getOwnPropertyDescriptor: () => ({ enumerable: true, configurable: true }),
            }),
        );
    });
    afterEach(() => vi.unstubAllGlobals());

    it('has noted it at once; the next one writes and sends it, and it is there once', async () => {
        server.away = true;
        const left = await open();
        // Noted before anything is awaited, gone once the disk has it.
        const adding = left.add('reading', 7, { typed: '1' });
        expect(notes.size).toBe(1);
        const [key, noted] = [...notes][0] ?? [];
        await adding;
        expect(notes.size).toBe(0);
        left.close();
        // What was noted and is written already is not written again; what never was is.
        notes.set(key!, noted!);
        notes.set(
            `${key}x`,
            JSON.stringify([{ ...JSON.parse(noted!)[0], id: 'f0000000-0000-7000-8000-000000000000', data: { typed: '2' } }]),
        );
        const next = await open();
        expect([next.snapshot().waiting.map((e) => e.data['typed']), notes.size]).toEqual([['1', '2'], 0]);
        // Whoever adds it is told of it as it is held, whichever window wrote it.
        const twice = await next.add('reading', 7, { typed: '1' }, next.snapshot().waiting[0]!.id);
        expect([twice.seq, next.snapshot().waiting.length]).toEqual([1, 2]);
        server.away = false;
        await next.flush();
        expect(typed()).toEqual(['1', '2']);
        notes.set(key!, noted!);
        const later = await open();
        expect([later.snapshot().waiting, notes.size]).toEqual([[], 0]);
    });

    it('notes each apart, though all taken in one moment begin with the set that they open', async () => {
        server.away = true;
        const left = await open();
        const set = { kind: 'measurement' as const, job: 7, id: 'a0000000-0000-7000-8000-000000000000', data: { condition: 'rest' } };
        const adding = ['1', '2', '3'].map((typed) => left.addAll([set, { kind: 'reading', job: 7, data: { typed } }]));
        const noted = [...notes];
        expect(noted.length).toBe(3);
        await Promise.all(adding);
        expect(notes.size).toBe(0);
        left.close();
        await new Promise((done) => {
            indexedDB.deleteDatabase(name).onsuccess = done;
        });
        noted.forEach(([k, v]) => notes.set(k, v));
        const next = await open();
        expect(next.snapshot().waiting.map((e) => e.data['typed'] ?? 'set')).toEqual(['set', '1', '2', '3']);
        expect(notes.size).toBe(0);
    });

    it('opens anew a disk that was closed under it, and writes once what it was given', async () => {
        server.away = true;
        const box = await open();
        await box.add('reading', 7, { typed: '1' });
        (await (box as unknown as { db: Promise<IDBDatabase> }).db).close();
        await box.add('reading', 7, { typed: '2' });
        expect([box.snapshot().waiting.map((e) => e.data['typed']), notes.size]).toEqual([['1', '2'], 0]);
    });
});

/** Locks as a browser has them: one holder at a time, the others in their order. */
function locks() {
    const tails = new Map<string, Promise<unknown>>();
    return {
        held: 0,
        most: 0,
        request(lock: string, _options: object, work: () => Promise<void>) {
            const turn = (tails.get(lock) ?? Promise.resolve()).then(async () => {
                this.most = Math.max(this.most, ++this.held);
                try {
                    await work();
                } finally {
                    this.held--;
                }
            });
            tails.set(
                lock,
                turn.catch(() => {}),
            );
            return turn;
        },
    };
}

describe('a server that is set back', () => {
    afterEach(() => vi.unstubAllGlobals());

    it('is given again what it lacks, before what waits, though all of it was acknowledged', async () => {
        const box = await open();
        await box.add('measurement', 7, { condition: 'rest' });
        await box.add('reading', 7, { typed: '1' });
        await box.flush();
        const putBack = server.backup();
        await box.add('measurement', 8, { condition: 'rest' });
        await box.add('reading', 8, { typed: '2' });
        await box.flush();
        putBack();
        expect(server.stored.length).toBe(2);
        await box.add('reading', 8, { typed: '3' });
        await box.flush();
        expect(server.stored.map((e) => e.data['typed'] ?? 'set')).toEqual(['set', '1', 'set', '2', '3']);
        expect(box.snapshot()).toMatchObject({ waiting: [], refused: [], problem: null });
    });

    it('is given a set before its readings, though both were taken in the same moment', async () => {
        const box = await open();
        const putBack = server.backup();
        // The reading's id comes before the set's.
        await box.addAll([
            { kind: 'measurement', job: 7, data: { condition: 'rest' }, id: 'f0000000-0000-7000-8000-000000000000' },
            { kind: 'reading', job: 7, data: { typed: '1' }, id: '00000000-0000-7000-8000-000000000000' },
        ]);
        await box.flush();
        putBack();
        await box.agree();
        expect(server.stored.map((e) => e.kind)).toEqual(['measurement', 'reading']);
    });

    it('is heard while numbers are typed, and no number is given twice', async () => {
        const all: string[] = [];
        for (let round = 0; round < 20; round++) {
            // A server of another word each time: what is written of it must not undo what was typed meanwhile.
            server.epoch = `word ${round}`;
            const box = await open();
            const adding = Array.from({ length: 12 }, (_, k) => {
                all.push(`${round}.${k}`);
                return box.add('reading', 7, { typed: `${round}.${k}` });
            });
            await Promise.all([...adding, box.flush(), box.agree()]);
            await box.flush();
            box.close();
        }
        expect([...typed()].sort()).toEqual(all.sort());
    });

    it('takes no refused entry away, however often all is numbered anew', async () => {
        const box = await open();
        const putBack = server.backup();
        for (const t of ['a', 'b']) {
            server.refuse.add(t);
            await box.add('reading', 7, { typed: t });
            await box.add('reading', 7, { typed: `after ${t}` });
            await box.flush();
            putBack();
            await box.agree();
        }
        expect(
            box
                .snapshot()
                .refused.map((e) => e.data['typed'])
                .sort(),
        ).toEqual(['a', 'b']);
        expect(typed()).toEqual(['after a', 'after b']);
    });

    it('is found though nothing is typed, and asked for the last entry alone from then on', async () => {
        const box = await open();
        const putBack = server.backup();
        for (const t of ['1', '2', '3']) await box.add('reading', 7, { typed: t });
        await box.flush();
        putBack();
        await box.agree();
        expect(typed()).toEqual(['1', '2', '3']);
        const { asked } = server;
        await box.agree();
        await box.agree();
        expect([server.asked, typed()]).toEqual([asked + 2, ['1', '2', '3']]);
    });

    it('is found again by a box that was begun anew, which has no count yet to tell it by', async () => {
        const box = await open();
        const putBack = server.backup();
        await box.add('reading', 7, { typed: '1' });
        await box.flush();
        putBack();
        server.away = true;
        await box.add('reading', 7, { typed: '2' });
        await box.flush();
        server.away = false;
        await box.agree();
        const { length } = server.stored;
        // Set back once more, before the new box has sent anything else; then a bench that has not asked types on.
        putBack();
        await box.agree();
        expect([length, typed()]).toEqual([2, ['1', '2']]);
        putBack();
        await box.add('reading', 7, { typed: '3' });
        await box.flush();
        expect(typed()).toEqual(['1', '2', '3']);
    });

    it('gives a job that lacks what was read: it waits again before anybody goes by that, and is asked for once', async () => {
        const box = await open();
        const putBack = server.backup();
        await box.add('measurement', 7, { condition: 'rest' }, 'set');
        await box.add('reading', 7, { typed: '1', measurement_id: 'set' }, 'one');
        await box.add('reading', 7, { typed: '2', measurement_id: 'set' }, 'two');
        await box.add('reading', 7, { typed: '', measurement_id: 'set', corrects_id: 'two' }, 'back');
        await box.add('reading', 8, { typed: '9', measurement_id: 'other' }, 'nine');
        await box.flush();
        const { asked } = server;
        // All of it but what was taken back: nothing to ask.
        await box.seen(7, ['set', 'one']);
        await box.flush();
        expect([server.asked, box.snapshot().waiting]).toEqual([asked, []]);
        box.close();
        putBack();
        server.away = true;
        // A page that is opened anew knows it as well.
        const later = await open();
        await later.seen(7, []);
        expect(later.snapshot().waiting.map((e) => e.id)).toEqual(['set', 'one']);
        await later.flush();
        expect(later.snapshot()).toMatchObject({ problem: { kind: 'away' }, waiting: [{ id: 'set' }, { id: 'one' }] });
        // Given by a server that is whole again, it waits no more.
        await later.seen(7, ['set', 'one']);
        await later.dismiss({ seq: 99 } as Entry);
        expect(later.snapshot().waiting).toEqual([]);
        await later.seen(7, []);
        server.away = false;
        await later.flush();
        expect(later.snapshot()).toMatchObject({ problem: null, waiting: [] });
        expect(server.stored.map((e) => e.id)).toEqual(['set', 'one', 'two', 'back', 'nine']);
    });

    it('knows what an earlier version of this bench kept', async () => {
        const kept: Entry = { seq: 1, id: 'one', person: 1, kind: 'reading', job_id: 7, at: '', data: { typed: '1' }, status: 'waiting' };
        await new Promise<void>((done) => {
            const opening = indexedDB.open(name, 2);
            opening.onupgradeneeded = () => {
                opening.result.createObjectStore('boxes', { keyPath: 'person' });
                opening.result.createObjectStore('entries', { keyPath: ['person', 'seq'] });
                const store = opening.result.createObjectStore('kept', { keyPath: ['person', 'id'] });
                store.createIndex('at', ['person', 'at']);
                store.put({ person: 1, id: 'one', entry: kept, at: Date.now() });
            };
            opening.onsuccess = () => {
                opening.result.close();
                done();
            };
        });
        const box = await open();
        await box.seen(7, []);
        expect(box.snapshot().waiting.map((e) => e.id)).toEqual(['one']);
        await box.flush();
        expect(typed()).toEqual(['1']);
    });

    it('has a job asked for again where the answer was older than what it holds, and what was set right elsewhere is let be', async () => {
        const box = await open();
        await box.add('measurement', 7, { condition: 'rest' }, 'set');
        await box.add('reading', 7, { typed: '1', measurement_id: 'set' }, 'one');
        await box.flush();
        const { asked } = server;
        const stale = vi.fn();
        box.onStale = stale;
        await box.seen(7, ['set']);
        expect(box.snapshot().waiting.map((e) => e.id)).toEqual(['one']);
        await box.flush();
        expect([box.snapshot().waiting, stale.mock.calls, server.asked]).toEqual([[], [[7]], asked + 1]);
        await box.seen(7, ['set']);
        await box.flush();
        expect([box.snapshot().waiting, stale.mock.calls, server.asked]).toEqual([[], [[7]], asked + 1]);
    });

    it('is known by its word as well, where its numbers say nothing', async () => {
        const box = await open();
        await box.add('reading', 7, { typed: '1' });
        await box.flush();
        // Restored, and the box's number with it, but for one entry.
        server.stored = [];
        server.epoch = 'two';
        await box.agree();
        expect(typed()).toEqual(['1']);
        await box.agree();
        expect(server.stored.length).toBe(1);
    });

    it('goes away while it is asked: nothing is lost, and it is asked again', async () => {
        const box = await open();
        const putBack = server.backup();
        await box.add('reading', 7, { typed: '1' });
        await box.flush();
        box.close();
        putBack();
        const { missing } = server;
        server.missing = () => Promise.reject(new SendProblem('away', 'away'));
        const again = await open();
        await again.add('reading', 7, { typed: '2' });
        await again.flush();
        expect(again.snapshot()).toMatchObject({ waiting: [{ data: { typed: '2' } }], problem: { kind: 'away' } });
        again.close();
        server.missing = missing;
        const third = await open();
        await third.flush();
        expect(typed()).toEqual(['1', '2']);
    });

    it('is given nothing that is older than any backup, nor more than a bench need hold', async () => {
        const now = vi.spyOn(Date, 'now');
        const box = await open();
        const putBack = server.backup();
        now.mockReturnValue(1_000_000);
        await box.add('reading', 7, { typed: 'old' });
        await box.flush();
        now.mockReturnValue(1_000_000 + 30 * 86_400_000 - 1);
        await box.add('reading', 7, { typed: 'new' });
        await box.flush();
        now.mockReturnValue(1_000_000 + 30 * 86_400_000 + 2);
        await box.add('reading', 7, { typed: 'newer' });
        await box.flush();
        now.mockRestore();
        putBack();
        await box.agree();
        expect(typed()).toEqual(['new', 'newer']);
    });

    it('loses nothing to two windows and is set back fifty times, and holds nothing twice', async () => {
        const lock = locks();
        vi.stubGlobal('navigator', { locks: lock });
        const windows = [await open(), await open()];
        // Seeded, so that what fails once fails again.
        let seed = 1848;
        const dice = (n: number) => (seed = (seed * 1103515245 + 12345) % 2147483648) % n;
        const all: string[] = [];
        let putBack = server.backup();
        for (let round = 0; round < 50; round++) {
            const typing = windows.map(async (w, which) => {
                for (let i = 0; i < 1 + dice(6); i++) {
                    const t = `${round}.${which}.${i}`;
                    all.push(t);
                    await w.add('reading', 7, { typed: t });
                }
                if (dice(2) === 0) await w.flush();
            });
            if (dice(3) === 0) putBack();
            await Promise.all(typing);
            if (dice(4) === 0) putBack = server.backup();
            if (dice(2) === 0) putBack();
        }
        for (const w of [...windows, ...windows]) {
            await w.flush();
            await w.agree();
        }
        expect([...typed()].sort()).toEqual([...all].sort());
        expect(lock.most).toBe(1);
        expect(windows.map((w) => w.snapshot().refused)).toEqual([[], []]);
    });

    it('has told a window what another has sent for it before that is gone from what waits', async () => {
        vi.stubGlobal('navigator', { locks: locks() });
        const [leads, follows] = [await open(), await open()];
        let answer: () => void = () => {};
        const { send } = server;
        const slow = vi.spyOn(leads as unknown as { send: typeof send }, 'send').mockImplementation(async (box, entries) => {
            const said = await send(box, entries);
            await new Promise<void>((done) => (answer = done));
            return said;
        });
        // Nothing is ever in neither: what is gone from what waits was told before.
        const told: string[] = [];
        const seen: string[][] = [];
        follows.onStored = (entries) => told.push(...entries.map((e) => String(e.data['typed'])));
        follows.subscribe(() => seen.push([...told, ...follows.snapshot().waiting.map((e) => String(e.data['typed']))].sort()));
        await leads.add('reading', 7, { typed: 'a' });
        for (const t of ['1', '2', '3']) {
            await follows.add('reading', 7, { typed: t });
            answer();
            await vi.waitFor(() => expect(typed()).toContain(t));
            answer();
        }
        slow.mockRestore();
        answer();
        await leads.flush();
        await follows.flush();
        expect([follows.snapshot().waiting, [...new Set(told)].sort()]).toEqual([[], ['1', '2', '3', 'a']]);
        const sizes = seen.map((s) => new Set(s.filter((t) => t !== 'a')).size);
        expect(sizes).toEqual([...sizes].sort((a, b) => a - b));
    });

    it('takes no other entry for the one that was acknowledged, when a window hears of it late', async () => {
        let late: () => void = () => {};
        let holds = false;
        const slow = await Outbox.open(
            1,
            async (box, entries) => {
                const answer = await server.send(box, entries);
                if (holds) await new Promise<void>((done) => (late = done));
                return answer;
            },
            name,
            server.missing,
        );
        const quick = await open();
        await slow.add('reading', 7, { typed: '0' });
        await slow.flush();
        const putBack = server.backup();
        await slow.add('reading', 7, { typed: '1' });
        await slow.flush();
        holds = true;
        await slow.add('reading', 7, { typed: '2' });
        await vi.waitFor(() => expect(typed()).toEqual(['0', '1', '2']));
        // While its answer is on the way the server is set back, and the other window numbers all anew.
        putBack();
        const { missing } = server;
        const asked = vi.spyOn(server, 'missing').mockImplementation(async (entries) => {
            const gone = await missing(entries);
            server.away = true;
            return gone;
        });
        const other = await open();
        await other.add('reading', 7, { typed: '3' });
        await other.flush();
        expect(asked).toHaveBeenCalledOnce();
        expect(other.snapshot().waiting.map((e) => [e.seq, e.data['typed']])).toEqual([
            [1, '1'],
            [2, '2'],
            [3, '3'],
        ]);
        holds = false;
        late();
        await slow.flush();
        asked.mockRestore();
        server.away = false;
        for (const w of [slow, quick, other]) await w.flush();
        for (const w of [slow, quick, other]) await w.agree();
        expect([...typed()].sort()).toEqual(['0', '1', '2', '3']);
    });

    it('is not told of an entry twice by a window that waits for another too long', async () => {
        vi.stubGlobal('navigator', {
            locks: { request: () => Promise.reject(Object.assign(new Error('late'), { name: 'TimeoutError' })) },
        });
        const box = await open();
        await box.add('reading', 7, { typed: '1' });
        await box.flush();
        expect(typed()).toEqual(['1']);
    });
});
