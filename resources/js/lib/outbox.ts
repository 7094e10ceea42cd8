import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
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
    check: LiveCheck | null;
}

/** Sends entries; throws SendProblem when they could not be taken now. */
export type Send = (outboxId: string, entries: Entry[], check: string | null) => Promise<SendAnswer>;

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
}

interface Schema extends DBSchema {
    boxes: { key: number; value: Box };
    entries: { key: [number, number]; value: Entry };
}

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
/** What is said where this bench's own disk does not take or give: the one case in which paper is needed. */
export const NO_DISK = 'This bench cannot use its own disk. Write the number down. ';

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
    onStored: (entries: Entry[], check: LiveCheck | null) => void = () => {};

    constructor(
        readonly person: number,
        private readonly send: Send,
        private readonly name = 'heartwood-bench',
    ) {}

    static async open(person: number, send: Send, name?: string): Promise<Outbox> {
        const box = new Outbox(person, send, name);
        await box.load();
        return box;
    }

    /** Reads what the disk holds. Errors: a disk that cannot be opened is said as the problem; the next entry tries it again. */
    async load(): Promise<void> {
        this.closed = false;
        try {
            await this.reload();
        } catch (error) {
            this.set({ problem: new SendProblem('disk', NO_DISK + String(error)) });
        }
    }

    private disk(): Promise<IDBPDatabase<Schema>> {
        if (this.db === null) {
            const opening = openDB<Schema>(this.name, 1, {
                upgrade(d) {
                    d.createObjectStore('boxes', { keyPath: 'person' });
                    d.createObjectStore('entries', { keyPath: ['person', 'seq'] });
                },
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
        try {
            const tx = (await this.disk()).transaction(['boxes', 'entries'], 'readwrite', { durability: 'strict' });
            const box = (await tx.objectStore('boxes').get(this.person)) ?? { person: this.person, outboxId: v7(), next: 1 };
            const at = new Date().toISOString();
            const entries = drafts.map(({ kind, job, data, id }, i): Entry => ({
                seq: box.next + i,
                id: id ?? v7(),
                person: this.person,
                kind,
                job_id: job,
                at,
                data,
                status: 'waiting',
            }));
            for (const entry of entries) await tx.objectStore('entries').put(entry);
            await tx.objectStore('boxes').put({ ...box, next: box.next + entries.length });
            await tx.done;
            for (const e of entries) {
                const set = e.kind === 'measurement' ? e.id : (e.data['measurement_id'] as string | undefined);
                if (set) this.checks.set(e.job_id, set);
            }
            await this.reload();
            return entries;
        } finally {
            this.set({ writing: this.state.writing - drafts.length });
            void this.flush();
        }
    }

    /** Takes a refused entry out of the list once a person has dealt with it. */
    async dismiss(entry: Entry): Promise<void> {
        await (await this.disk()).delete('entries', [this.person, entry.seq]);
        await this.reload();
    }

    /** Sends what waits, in order, until nothing is left or the server cannot take it. */
    flush(): Promise<void> {
        if (this.closed) return Promise.resolve();
        this.wanted = true;
        this.busy ??= this.run()
            // A disk that does not answer sends nothing and loses nothing: it is said, and the next round tries again.
            .catch((error: unknown) => this.set({ problem: new SendProblem('disk', NO_DISK + String(error)), sending: false }))
            .finally(() => {
                this.busy = null;
            });
        return this.busy;
    }

    private async run(): Promise<void> {
        while (!this.closed) {
            this.wanted = false;
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
                const answer = await this.send(box.outboxId, batch, this.checks.get(last.job_id) ?? null);
                await this.acknowledge(batch, answer);
                this.set({ problem: null });
            } catch (error) {
                const problem =
                    error instanceof SendProblem
                        ? error
                        : new SendProblem('fault', 'Something broke while sending. What you typed is kept.');
                if (problem.kind === 'gap' && batch[0] && problem.expected !== batch[0].seq) {
                    await this.renumber();
                    continue;
                }
                this.set({ problem, sending: false });
                return;
            }
        }
    }

    private async acknowledge(batch: Entry[], answer: SendAnswer): Promise<void> {
        const stored: Entry[] = [];
        const tx = (await this.disk()).transaction('entries', 'readwrite', { durability: 'strict' });
        for (const result of answer.results) {
            const entry = batch.find((e) => e.seq === result.seq && e.id === result.id);
            if (!entry) continue;
            if (result.status === 'refused') await tx.store.put({ ...entry, status: 'refused', errors: result.errors });
            else {
                stored.push(entry);
                await tx.store.delete([this.person, entry.seq]);
            }
        }
        await tx.done;
        // Readers of the server's copy are told before the local copy goes, so that nothing blinks away.
        this.onStored(stored, answer.check);
        await this.reload();
    }

    /** The server's count and ours do not meet (its data was restored, or ours): start a new box with what is left. */
    private async renumber(): Promise<void> {
        const tx = (await this.disk()).transaction(['boxes', 'entries'], 'readwrite', { durability: 'strict' });
        const store = tx.objectStore('entries');
        const waiting = (await store.getAll(IDBKeyRange.bound([this.person, 0], [this.person, Infinity]))).filter(
            (e) => e.status === 'waiting',
        );
        for (const e of waiting) await store.delete([this.person, e.seq]);
        const refused = await store.getAll(IDBKeyRange.bound([this.person, 0], [this.person, Infinity]));
        for (const e of refused) await store.delete([this.person, e.seq]);
        let seq = 0;
        for (const e of waiting) await store.put({ ...e, seq: ++seq });
        // Refused entries are never sent again; they keep numbers of their own below zero.
        let kept = 0;
        for (const e of refused) await store.put({ ...e, seq: --kept });
        await tx.objectStore('boxes').put({ person: this.person, outboxId: v7(), next: seq + 1 });
        await tx.done;
    }

    private async mine(): Promise<Entry[]> {
        return (await this.disk()).getAll('entries', IDBKeyRange.bound([this.person, -Infinity], [this.person, Infinity]));
    }

    private async reload(): Promise<void> {
        const all = await this.mine();
        this.set({ loaded: true, waiting: all.filter((e) => e.status === 'waiting'), refused: all.filter((e) => e.status === 'refused') });
    }

    private set(change: Partial<State>) {
        this.state = { ...this.state, ...change };
        this.listeners.forEach((l) => l());
    }
}
