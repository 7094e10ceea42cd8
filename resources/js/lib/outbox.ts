import { type DBSchema, type IDBPDatabase, type IDBPObjectStore, openDB } from 'idb';
import { v7 } from 'uuid';
import type { LiveCheck } from '@/api/client';

/**
 * What is typed at the bench goes here first and leaves only when the server has acknowledged it. One box per person,
 * numbered without gaps; sent in order; kept through reload, closed browser, expired session and dropped network.
 */
export interface Entry {
    seq: number;
    id: string;
    person: number;
    kind: 'measurement' | 'reading' | 'test' | 'event' | 'guided';
    job_id: number;
    at: string;
    data: Record<string, unknown>;
    status: 'waiting' | 'refused';
    errors?: Record<string, string>;
}

export interface SendAnswer {
    results: { seq: number; id: string; status: 'stored' | 'duplicate' | 'refused'; errors: Record<string, string> }[];
    last_seq: number;
    /** Another one after the server was restored. */
    epoch?: string;
    check: LiveCheck | null;
}

/** Sends entries; throws SendProblem when they could not be taken now. None are sent to ask how far the server has come. */
export type Send = (outboxId: string, entries: Entry[], check: string | null) => Promise<SendAnswer>;

/** Asks which of these the server does not hold; answers their ids. */
export type Missing = (entries: Pick<Entry, 'id' | 'kind' | 'job_id'>[]) => Promise<string[]>;

export class SendProblem extends Error {
    constructor(
        readonly kind: 'away' | 'signed-out' | 'other-person' | 'gap' | 'fault' | 'disk',
        message: string,
        readonly expected?: number,
    ) {
        super(message);
    }
}

interface Box {
    person: number;
    outboxId: string;
    next: number;
    /** Of the server that took the last of it. */
    epoch?: string;
}

/** An entry that the server has acknowledged, held on to: a server that is restored from a backup may ask for it again. */
interface Kept {
    person: number;
    id: string;
    entry: Entry;
    /** When it was acknowledged, milliseconds of this bench's clock. */
    at: number;
}

interface Schema extends DBSchema {
    boxes: { key: number; value: Box };
    entries: { key: [number, number]; value: Entry };
    kept: { key: [number, string]; value: Kept; indexes: { at: [number, number]; job: [number, number] } };
}

/** An entry before it has its number. */
type Bare = Pick<Entry, 'id' | 'kind' | 'job_id' | 'at' | 'data'>;

/** What is to be kept, before it has its number. */
export type Draft = Pick<Entry, 'kind' | 'data'> & { job: number; id?: string };

export interface State {
    /** Whether what this bench's disk holds has been read: until then it is not known what waits. */
    loaded: boolean;
    /** How many are on their way to this bench's disk: not safe yet, and never called so. */
    writing: number;
    waiting: Entry[];
    refused: Entry[];
    problem: SendProblem | null;
    sending: boolean;
}

const BATCH = 50;
/** How long acknowledged entries are held on to, and how many: longer than any backup is old. */
const HELD_MS = 30 * 86_400_000;
const HELD = 20_000;
/** Entries of one question to the server. */
const ASKED = 500;
/** Another window that leads and does not answer is waited for so long: what both send is told apart by its ids. */
const LEAD_MS = 20_000;
/** What is said where this bench's own disk does not take or give: the one case in which paper is needed. */
export const NO_DISK = 'This bench cannot use its own disk. Write the number down. ';

const OLDER = 'Another window of this bench runs an earlier version: reload it or close it, then this one goes on.';

/** In the order in which it was taken: a reading comes after the set that it belongs to. */
const asTaken = (a: Entry, b: Entry) => {
    const rank = (e: Entry) => (e.kind === 'measurement' ? 0 : 1);
    return a.at === b.at ? rank(a) - rank(b) || a.seq - b.seq : a.at < b.at ? -1 : 1;
};

export const NOTHING: State = { loaded: false, writing: 0, waiting: [], refused: [], problem: null, sending: false };

/** It is there from the first drawing on: what is typed before the disk has answered waits for it, and is not dropped. */
export class Outbox {
    private state: State = NOTHING;
    private db: Promise<IDBPDatabase<Schema>> | null = null;
    private closed = false;
    /** Asked for since the disk was last looked at. */
    private wanted = false;
    private readonly listeners = new Set<() => void>();
    private busy: Promise<void> | null = null;
    private checks = new Map<number, string>();
    /** What waits as far as this window knows, and was not said to be stored: another window may send it. */
    private readonly unheard = new Map<string, Entry>();
    /** What was acknowledged and was taken back or set right elsewhere. */
    private readonly elsewhere = new Set<string>();
    /** What was acknowledged, by whichever window, and not given with its job: it is shown as waiting until it is known why. */
    private readonly lacking = new Map<string, Entry>();
    private ready: Promise<void> | null = null;
    onStored: (entries: Entry[], check: LiveCheck | null) => void = () => {};
    /** What is held of this job is older than what its server has. */
    onStale: (job: number) => void = () => {};

    constructor(
        readonly person: number,
        private readonly send: Send,
        private readonly name = 'heartwood-bench',
        private readonly missing: Missing | null = null,
    ) {}

    static async open(person: number, send: Send, name?: string, missing: Missing | null = null): Promise<Outbox> {
        const box = new Outbox(person, send, name, missing);
        await box.load();
        return box;
    }

    /** Reads what the disk holds. Errors: a disk that cannot be opened is said as the problem; the next entry tries it again. */
    load(): Promise<void> {
        this.ready = this.read();
        return this.ready;
    }

    private async read(): Promise<void> {
        this.closed = false;
        try {
            await this.recover();
            await this.reload();
        } catch (error) {
            this.set({ problem: new SendProblem('disk', NO_DISK + String(error)) });
        }
    }

    private disk(): Promise<IDBPDatabase<Schema>> {
        if (this.db === null) {
            const opening = openDB<Schema>(this.name, 3, {
                upgrade(d, from, _, tx) {
                    if (from < 1) {
                        d.createObjectStore('boxes', { keyPath: 'person' });
                        d.createObjectStore('entries', { keyPath: ['person', 'seq'] });
                    }
                    if (from < 2) d.createObjectStore('kept', { keyPath: ['person', 'id'] }).createIndex('at', ['person', 'at']);
                    tx.objectStore('kept').createIndex('job', ['person', 'entry.job_id']);
                },
                // Another window is of a later version: it may go on with the disk, and this one opens it anew.
                blocking: () => {
                    void this.db?.then((d) => d.close());
                    this.db = null;
                },
                blocked: () => this.set({ problem: new SendProblem('disk', OLDER) }),
                // The browser has closed it on its own: the next one to ask opens it anew.
                terminated: () => (this.db = null),
            });
            this.db = opening;
            opening.catch(() => (this.db = null));
        }
        return this.db;
    }

    subscribe = (listener: () => void) => {
        this.listeners.add(listener);
        return () => this.listeners.delete(listener);
    };

    snapshot = () => this.state;

    close() {
        this.closed = true;
        this.listeners.clear();
        void this.db?.then(
            (db) => db.close(),
            () => {},
        );
        this.db = null;
    }

    /** Writes the entry to disk and resolves once it is there; sending follows by itself. */
    async add(kind: Entry['kind'], job: number, data: Record<string, unknown>, id?: string): Promise<Entry> {
        return (await this.addAll([{ kind, job, data, id }]))[0]!;
    }

    /** The same for several that belong together, such as a pasted column: all of them are on the disk, or none. */
    async addAll(drafts: Draft[]): Promise<Entry[]> {
        this.set({ writing: this.state.writing + drafts.length });
        const at = new Date().toISOString();
        const bare = drafts.map(({ kind, job, data, id }) => ({ id: id ?? v7(), kind, job_id: job, at, data }));
        // The disk answers in its own time, and a page that is left meanwhile takes what is half written with it: noted at once.
        const note = this.note(bare);
        try {
            return await this.write(bare);
        } finally {
            if (note !== null) localStorage.removeItem(note);
            this.set({ writing: this.state.writing - drafts.length });
            void this.flush();
        }
    }

    /** Where notes of what is on its way to the disk lie. */
    private get notes(): string {
        return `heartwood.outbox.${this.name}.${this.person}.`;
    }

    private note(bare: Bare[]): string | null {
        try {
            // A name of its own: what is taken in the same moment may begin with the same entry, the opening of its set.
            const key = this.notes + v7();
            localStorage.setItem(key, JSON.stringify(bare));
            return key;
        } catch {
            return null;
        }
    }

    /** What was noted by a page that was left before its disk had answered: written now, unless it is there. */
    private async recover(): Promise<void> {
        if (typeof localStorage === 'undefined') return;
        // Their names are in the order in which they were noted.
        const mine = Object.keys(localStorage)
            .filter((k) => k.startsWith(this.notes))
            .sort();
        for (const key of mine) {
            await this.write(JSON.parse(localStorage.getItem(key) ?? '[]') as Bare[]);
            localStorage.removeItem(key);
        }
    }

    private async write(bare: Bare[]): Promise<Entry[]> {
        try {
            return await this.written(bare);
        } catch (error) {
            // The connection was closed under it, by the browser or for a later version: by their ids nothing is written twice.
            if (!(error instanceof DOMException && error.name === 'InvalidStateError')) throw error;
            this.db = null;
            return await this.written(bare);
        }
    }

    private async written(bare: Bare[]): Promise<Entry[]> {
        const tx = (await this.disk()).transaction(['boxes', 'entries', 'kept'], 'readwrite', { durability: 'strict' });
        const box = (await tx.objectStore('boxes').get(this.person)) ?? { person: this.person, outboxId: v7(), next: 1 };
        const here = new Map((await tx.objectStore('entries').getAll(this.range())).map((e) => [e.id, e]));
        const entries: Entry[] = [];
        let next = box.next;
        for (const b of bare) {
            // A window that was opened meanwhile may have written it already.
            const held = here.get(b.id) ?? (await tx.objectStore('kept').get([this.person, b.id]))?.entry;
            const entry = held ?? { ...b, seq: next++, person: this.person, status: 'waiting' };
            if (!held) await tx.objectStore('entries').put(entry);
            entries.push(entry);
        }
        await tx.objectStore('boxes').put({ ...box, next });
        await tx.done;
        for (const e of entries) if (e.status === 'waiting') this.unheard.set(e.id, e);
        for (const e of entries) {
            const set = e.kind === 'measurement' ? e.id : (e.data['measurement_id'] as string | undefined);
            if (set) this.checks.set(e.job_id, set);
        }
        await this.reload();
        return entries;
    }

    /** Takes a refused entry out of the list once a person has dealt with it. */
    async dismiss(entry: Entry): Promise<void> {
        await (await this.disk()).delete('entries', [this.person, entry.seq]);
        this.unheard.delete(entry.id);
        await this.reload();
    }

    /** Sends what waits, in order, until nothing is left or the server cannot take it. */
    flush(): Promise<void> {
        if (this.closed) return Promise.resolve();
        this.wanted = true;
        this.busy ??= this.lead(() => this.run())
            // A disk that does not answer sends nothing and loses nothing: it is said, and the next round tries again.
            .catch((error: unknown) => this.set({ problem: new SendProblem('disk', NO_DISK + String(error)), sending: false }))
            .finally(() => {
                this.busy = null;
            });
        return this.busy;
    }

    /** One window of this bench sends at a time: what another has just sent is read from the disk, and not sent beside it. */
    private async lead(work: () => Promise<void>): Promise<void> {
        // Pages that are not served securely have no locks: the server tells twice sent entries apart by their ids.
        if (typeof navigator === 'undefined' || !('locks' in navigator)) return work();
        let led = false;
        try {
            await navigator.locks.request(`${this.name}.${this.person}`, { signal: AbortSignal.timeout(LEAD_MS) }, () => {
                led = true;
                return work();
            });
        } catch (error) {
            // What the work itself says is said; only the waiting for a window that does not answer ends here.
            if (led) throw error;
            await work();
        }
    }

    /**
     * Asks how far the server has come with this box. Further back than it was, or another one than it was: it was restored from a
     * backup, and what it lacks is sent again. Errors: none, it is asked again with the next round.
     */
    agree(): Promise<void> {
        if (this.closed || this.missing === null) return Promise.resolve();
        return this.lead(async () => {
            try {
                const box = await (await this.disk()).get('boxes', this.person);
                if (!box) return;
                const answer = await this.send(box.outboxId, [], null);
                if (!(await this.heard(box.outboxId, answer)) && (await this.isBehind())) await this.restore(answer.epoch);
            } catch (error) {
                if (!(error instanceof SendProblem)) throw error;
            }
        }).then(() => this.flush());
    }

    /** Whether the server lacks the last that it acknowledged: a box that was begun anew has no count yet that would tell it. */
    private async isBehind(): Promise<boolean> {
        if (this.missing === null) return false;
        const waits = new Set((await this.mine()).filter((e) => e.status === 'waiting').map((e) => e.id));
        const kept = (await this.disk()).transaction('kept').store.index('at');
        const mine = IDBKeyRange.bound([this.person, 0], [this.person, Infinity]);
        for (let at = await kept.openCursor(mine, 'prev'); at; at = await at.continue()) {
            const { id, entry } = at.value;
            if (!waits.has(id)) return (await this.missing([{ id, kind: entry.kind, job_id: entry.job_id }])).length > 0;
        }
        return false;
    }

    /**
     * Holds what a server gives of a job against what it has acknowledged of it, before anybody goes by it: one that was set back
     * would ask for taps that were read. What it lacks waits again from now on, and whether it truly lacks it is asked next. Errors:
     * a disk that does not answer is said as the problem.
     */
    async seen(job: number, ids: string[]): Promise<void> {
        await this.ready;
        if (this.missing === null || this.closed) return;
        try {
            const here = new Set(ids);
            const mine = (await (await this.disk()).getAllFromIndex('kept', 'job', [this.person, job])).map((k) => k.entry).sort(asTaken);
            const corrected = new Set(mine.map((e) => e.data['corrects_id']));
            const isOf = (e: Entry) => e.kind === 'measurement' || (e.kind === 'reading' && e.data['typed'] !== '');
            const lacks = mine.filter((e) => isOf(e) && !here.has(e.id) && !corrected.has(e.id) && !this.elsewhere.has(e.id));
            for (const e of mine) if (here.has(e.id)) this.lacking.delete(e.id);
            for (const e of lacks) this.lacking.set(e.id, e);
            if (lacks.length === 0) return;
            this.set({ waiting: this.withLacking(this.state.waiting) });
            void this.flush();
        } catch (error) {
            this.set({ problem: new SendProblem('disk', NO_DISK + String(error)) });
        }
    }

    private withLacking(waiting: Entry[]): Entry[] {
        // It was taken before what waits, and what waits may set it right.
        const here = new Set(waiting.map((e) => e.id));
        return [...[...this.lacking.values()].filter((e) => !here.has(e.id)), ...waiting];
    }

    /** Whether what a server did not give is not there, or was taken back or set right elsewhere. */
    private async settle(): Promise<void> {
        if (this.lacking.size === 0 || this.missing === null) return;
        const waits = new Set((await this.mine()).map((e) => e.id));
        for (const id of waits) this.lacking.delete(id);
        const asked = [...this.lacking.values()].slice(0, ASKED);
        if (asked.length === 0) return;
        const gone = new Set(await this.missing(asked.map(({ id, kind, job_id }) => ({ id, kind, job_id }))));
        if (gone.size > 0) await this.restore(undefined);
        for (const e of asked) {
            this.lacking.delete(e.id);
            // It is there after all: what was given was older than it, or it is no more what counts.
            if (!gone.has(e.id)) this.elsewhere.add(e.id);
        }
        const stale = new Set(asked.filter((e) => !gone.has(e.id)).map((e) => e.job_id));
        await this.reload();
        stale.forEach((job) => this.onStale(job));
    }

    /** What an answer says of the server: whether it is the one that it was, and no further back. Answers whether it was set back. */
    private async heard(outboxId: string, answer: SendAnswer): Promise<boolean> {
        const db = await this.disk();
        const box = await db.get('boxes', this.person);
        if (!box || box.outboxId !== outboxId) return false;
        const waiting = (await this.mine()).filter((e) => e.status === 'waiting' && e.seq > 0);
        const acknowledged = Math.min(box.next, ...waiting.map((e) => e.seq)) - 1;
        const other = box.epoch !== undefined && answer.epoch !== undefined && box.epoch !== answer.epoch;
        if (other || answer.last_seq < acknowledged) {
            await this.restore(answer.epoch);
            return true;
        }
        if (answer.epoch !== undefined && box.epoch !== answer.epoch) {
            // Read and written as one: what was typed meanwhile has moved its count on.
            const tx = db.transaction('boxes', 'readwrite', { durability: 'strict' });
            const now = await tx.store.get(this.person);
            if (now?.outboxId === outboxId) await tx.store.put({ ...now, epoch: answer.epoch });
            await tx.done;
        }
        return false;
    }

    /** The server was set back: of all that was acknowledged, what it does not hold is numbered anew before what waits. */
    private async restore(epoch: string | undefined): Promise<void> {
        const kept = (
            await (await this.disk()).getAllFromIndex('kept', 'at', IDBKeyRange.bound([this.person, 0], [this.person, Infinity]))
        ).map((k) => k.entry);
        const lost: Entry[] = [];
        for (let i = 0; i < kept.length && this.missing; i += ASKED) {
            const asked = kept.slice(i, i + ASKED);
            const gone = new Set(await this.missing(asked.map(({ id, kind, job_id }) => ({ id, kind, job_id }))));
            lost.push(...asked.filter((e) => gone.has(e.id)));
        }
        await this.renumber(lost.sort(asTaken), epoch);
    }

    private async run(): Promise<void> {
        let agreed = false;
        while (!this.closed) {
            this.wanted = false;
            if (!(await this.isSettled())) return;
            const box = await (await this.disk()).get('boxes', this.person);
            const batch = (await this.mine()).filter((e) => e.status === 'waiting').slice(0, BATCH);
            const last = batch[batch.length - 1];
            if (!box || !last) {
                // What came in while the disk was looked at is not left to the next round.
                if (this.wanted) continue;
                // Another window of this bench may have sent them.
                if (this.state.waiting.length > 0) await this.reload();
                if (this.state.problem || this.state.sending) this.set({ problem: null, sending: false });
                return;
            }
            this.set({ sending: true });
            try {
                if (batch[0]?.seq === 1 && !agreed) {
                    agreed = true;
                    if (await this.isBehind()) {
                        await this.restore(undefined);
                        continue;
                    }
                }
                const answer = await this.send(box.outboxId, batch, this.checks.get(last.job_id) ?? null);
                await this.acknowledge(batch, answer);
                await this.heard(box.outboxId, answer);
                this.set({ problem: null });
            } catch (error) {
                const problem =
                    error instanceof SendProblem
                        ? error
                        : new SendProblem('fault', 'Something broke while sending. What you typed is kept.');
                if (problem.kind === 'gap' && batch[0] && problem.expected !== batch[0].seq) {
                    try {
                        await this.restore(undefined);
                        agreed = true;
                        continue;
                    } catch (again) {
                        if (!(again instanceof SendProblem)) throw again;
                        this.set({ problem: again, sending: false });
                        return;
                    }
                }
                this.set({ problem, sending: false });
                return;
            }
        }
    }

    private async isSettled(): Promise<boolean> {
        try {
            await this.settle();
            return true;
        } catch (error) {
            if (!(error instanceof SendProblem)) throw error;
            this.set({ problem: error, sending: false });
            return false;
        }
    }

    private async acknowledge(batch: Entry[], answer: SendAnswer): Promise<void> {
        const stored: Entry[] = [];
        const tx = (await this.disk()).transaction(['entries', 'kept'], 'readwrite', { durability: 'strict' });
        const entries = tx.objectStore('entries');
        const kept = tx.objectStore('kept');
        const now = Date.now();
        // By its own id: another window may have numbered all of it anew since this was sent, and its number is another's by now.
        const here = new Map((await entries.getAll(this.range())).map((e) => [e.id, e]));
        for (const result of answer.results) {
            const entry = batch.find((e) => e.seq === result.seq && e.id === result.id);
            if (!entry) continue;
            const waits = here.get(entry.id);
            if (result.status === 'refused') {
                if (waits) await entries.put({ ...waits, status: 'refused', errors: result.errors });
                continue;
            }
            stored.push(entry);
            this.lacking.delete(entry.id);
            this.elsewhere.delete(entry.id);
            this.unheard.delete(entry.id);
            if (waits) await entries.delete([this.person, waits.seq]);
            // In the order in which they were acknowledged, also within one batch.
            await kept.put({ person: this.person, id: entry.id, entry, at: now + stored.length / 1000 });
        }
        await this.forgetOld(kept, now);
        await tx.done;
        // Readers of the server's copy are told before the local copy goes, so that nothing blinks away.
        this.onStored(stored, answer.check);
        await this.reload();
    }

    /** What is older than any backup, and what is more than a bench need hold, goes. */
    private async forgetOld(kept: IDBPObjectStore<Schema, ('entries' | 'kept')[], 'kept', 'readwrite'>, now: number): Promise<void> {
        const mine = IDBKeyRange.bound([this.person, 0], [this.person, Infinity]);
        let over = (await kept.index('at').count(mine)) - HELD;
        for (let at = await kept.index('at').openCursor(mine); at; at = await at.continue()) {
            if (over-- <= 0 && at.value.at > now - HELD_MS) break;
            await at.delete();
        }
    }

    /**
     * The server's count and ours do not meet (its data was restored, or ours): a new box begins, with what the server lacks of what it
     * once acknowledged, and then with what waits.
     */
    private async renumber(lost: Entry[], epoch: string | undefined): Promise<void> {
        const tx = (await this.disk()).transaction(['boxes', 'entries'], 'readwrite', { durability: 'strict' });
        const store = tx.objectStore('entries');
        const waiting = (await store.getAll(IDBKeyRange.bound([this.person, 0], [this.person, Infinity]))).filter(
            (e) => e.status === 'waiting',
        );
        for (const e of waiting) await store.delete([this.person, e.seq]);
        const refused = await store.getAll(IDBKeyRange.bound([this.person, 0], [this.person, Infinity]));
        for (const e of refused) await store.delete([this.person, e.seq]);
        let seq = 0;
        const here = new Set(waiting.map((e) => e.id));
        const again = lost.filter((e) => !here.has(e.id)).map((e): Entry => ({ ...e, status: 'waiting' }));
        for (const e of [...again, ...waiting]) await store.put({ ...e, seq: ++seq });
        // Refused entries are never sent again; they keep numbers of their own below zero, and below those of an earlier time.
        let kept = Math.min(0, ...(await store.getAll(this.range())).map((e) => e.seq));
        for (const e of refused) await store.put({ ...e, seq: --kept });
        await tx.objectStore('boxes').put({
            person: this.person,
            outboxId: v7(),
            next: seq + 1,
            ...(epoch === undefined ? {} : { epoch }),
        });
        await tx.done;
        await this.reload();
    }

    private range(): IDBKeyRange {
        return IDBKeyRange.bound([this.person, -Infinity], [this.person, Infinity]);
    }

    private async mine(): Promise<Entry[]> {
        return (await this.disk()).getAll('entries', this.range());
    }

    private async reload(): Promise<void> {
        const tx = (await this.disk()).transaction(['entries', 'kept']);
        const all = await tx.objectStore('entries').getAll(this.range());
        const waiting = all.filter((e) => e.status === 'waiting');
        // What another window has sent is in this one's copy of the server before it is gone from what waits.
        const sent: Entry[] = [];
        const here = new Set(all.map((e) => e.id));
        for (const id of this.unheard.keys()) {
            const kept = here.has(id) ? undefined : await tx.objectStore('kept').get([this.person, id]);
            if (kept) sent.push(kept.entry);
        }
        await tx.done;
        for (const e of waiting) this.unheard.set(e.id, e);
        for (const e of sent) this.unheard.delete(e.id);
        if (sent.length > 0) this.onStored(sent.sort(asTaken), null);
        this.set({
            loaded: true,
            waiting: this.withLacking(waiting),
            refused: all.filter((e) => e.status === 'refused'),
        });
    }

    private set(change: Partial<State>) {
        this.state = { ...this.state, ...change };
        this.listeners.forEach((l) => l());
    }
}
