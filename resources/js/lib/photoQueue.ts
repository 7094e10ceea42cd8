import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import { v7 } from 'uuid';

/**
 * Photos on their way: on this device's disk before anything else, sent one after another, tried again when the network is back, gone from
 * here only when the server has them. Each under its own name, so that one sent twice is there once. A reload goes on where it was.
 */
export interface Waiting {
    id: string;
    /** Where it goes: `job:12` of somebody signed in here, or `phone:` or `owner:` and the secret of a link. */
    to: string;
    /** Who took it at the bench: it goes out under no other name. Null on a phone. */
    person: number | null;
    about: string;
    at: string;
    name: string;
    size: number;
    state: 'waits' | 'refused';
    why: string;
}
interface Kept extends Waiting {
    bytes: ArrayBuffer;
    type: string;
}
interface Schema extends DBSchema {
    photos: { key: string; value: Kept };
}

export class PhotoProblem extends Error {
    constructor(
        readonly kind: 'away' | 'refused',
        message: string,
    ) {
        super(message);
    }
}

/** Sends one; says how far it is, from 0 to 1. */
export type SendPhoto = (photo: Waiting, file: Blob, told: (share: number) => void) => Promise<void>;

export interface QueueState {
    loaded: boolean;
    items: Waiting[];
    /** Of the one that is being sent. */
    sending: { id: string; share: number } | null;
    /** Why it stands still; empty while it goes on. */
    away: string;
}
export const EMPTY: QueueState = { loaded: false, items: [], sending: null, away: '' };
const AGAIN_MS = 4000;

export class PhotoQueue {
    private state: QueueState = EMPTY;
    private readonly listeners = new Set<() => void>();
    private db: Promise<IDBPDatabase<Schema>> | null = null;
    private running = false;
    private again: ReturnType<typeof setTimeout> | null = null;
    /** Told of each that the server has now. */
    onSent: (photo: Waiting) => void = () => {};

    constructor(
        private readonly send: SendPhoto,
        /** Whose photos go out now: those of this person, or of a phone. */
        private readonly mine: (photo: Waiting) => boolean,
        private readonly name = 'heartwood-photos',
    ) {}

    subscribe = (listener: () => void) => {
        this.listeners.add(listener);
        return () => this.listeners.delete(listener);
    };
    snapshot = () => this.state;

    async load() {
        const items = await (await this.disk()).getAll('photos');
        this.set({ loaded: true, items: items.map(({ bytes: _, type: __, ...w }) => w).sort((a, b) => (a.id < b.id ? -1 : 1)) });
        void this.run();
    }

    /** Kept on this device first; then sent. */
    async add(files: Iterable<File>, to: string, person: number | null, about = '') {
        for (const file of files) {
            const photo: Waiting = {
                id: v7(),
                to,
                person,
                about,
                at: new Date().toISOString(),
                name: file.name,
                size: file.size,
                state: 'waits',
                why: '',
            };
            await (await this.disk()).put('photos', { ...photo, bytes: await file.arrayBuffer(), type: file.type });
            this.set({ items: [...this.state.items, photo] });
        }
        void this.run();
    }

    /** What was taken before the job was there goes to it now. */
    async retarget(from: string, to: string) {
        const db = await this.disk();
        for (const w of this.state.items.filter((i) => i.to === from)) {
            const kept = await db.get('photos', w.id);
            if (kept) await db.put('photos', { ...kept, to });
        }
        this.set({ items: this.state.items.map((i) => (i.to === from ? { ...i, to } : i)) });
        void this.run();
    }

    /** A refused one is not wanted any more. */
    async dismiss(id: string) {
        await (await this.disk()).delete('photos', id);
        this.set({ items: this.state.items.filter((i) => i.id !== id) });
    }

    /** The network may be back. */
    wake = () => {
        if (this.again) clearTimeout(this.again);
        this.again = null;
        void this.run();
    };

    private async run() {
        if (this.running) return;
        this.running = true;
        try {
            for (;;) {
                const next = this.state.items.find((i) => i.state === 'waits' && !i.to.startsWith('draft:') && this.mine(i));
                if (!next) break;
                await this.one(next);
            }
            this.set({ away: '' });
        } catch (e) {
            this.set({ away: e instanceof Error ? e.message : String(e) });
            this.again ??= setTimeout(this.wake, AGAIN_MS);
        } finally {
            this.running = false;
            this.set({ sending: null });
        }
    }

    private async one(photo: Waiting) {
        const kept = await (await this.disk()).get('photos', photo.id);
        if (!kept) return this.set({ items: this.state.items.filter((i) => i.id !== photo.id) });
        this.set({ sending: { id: photo.id, share: 0 } });
        try {
            await this.send(photo, new Blob([kept.bytes], { type: kept.type }), (share) => this.set({ sending: { id: photo.id, share } }));
        } catch (e) {
            if (!(e instanceof PhotoProblem) || e.kind !== 'refused') throw e;
            const refused = { state: 'refused' as const, why: e.message };
            await (await this.disk()).put('photos', { ...kept, ...refused });
            return this.set({ items: this.state.items.map((i) => (i.id === photo.id ? { ...i, ...refused } : i)) });
        }
        await (await this.disk()).delete('photos', photo.id);
        this.set({ items: this.state.items.filter((i) => i.id !== photo.id), away: '' });
        this.onSent(photo);
    }

    private set(change: Partial<QueueState>) {
        this.state = { ...this.state, ...change };
        this.listeners.forEach((l) => l());
    }

    private disk() {
        this.db ??= openDB<Schema>(this.name, 1, { upgrade: (db) => void db.createObjectStore('photos', { keyPath: 'id' }) });
        return this.db;
    }
}

/** Over the wire, with how far it is. What the server refuses for good is told from what may be tried again. */
export const overTheWire: SendPhoto = (photo, file, told) =>
    new Promise((done, fail) => {
        const body = new FormData();
        body.set('id', photo.id);
        // Beside a reading of its owner, by that reading's name.
        if (photo.about) body.set(photo.to.startsWith('owner:') ? 'reading' : 'about', photo.about);
        body.set('at', photo.at);
        body.set('file', file, photo.name || 'photo.jpg');
        const [kind, of] = [photo.to.slice(0, photo.to.indexOf(':')), photo.to.slice(photo.to.indexOf(':') + 1)];
        const wire = new XMLHttpRequest();
        const door: Record<string, [string, string]> = {
            phone: ['/api/phone/photos', 'X-Phone-Link'],
            owner: ['/api/owner/photos', 'X-Pack-Link'],
        };
        const [address, link] = door[kind] ?? [`/api/jobs/${of}/photos`, ''];
        wire.open('POST', address);
        wire.setRequestHeader('Accept', 'application/json');
        if (link) {
            wire.setRequestHeader(link, of);
        } else {
            const token = document.cookie.match(/(?:^|; )XSRF-TOKEN=([^;]+)/)?.[1];
            wire.setRequestHeader('X-XSRF-TOKEN', decodeURIComponent(token ?? ''));
            wire.setRequestHeader('Idempotency-Key', photo.id);
        }
        wire.upload.onprogress = (e) => e.lengthComputable && told(e.loaded / e.total);
        wire.onerror = wire.ontimeout = wire.onabort = () => fail(new PhotoProblem('away', 'No network: kept here, sent when it is back.'));
        wire.onload = () => {
            if (wire.status === 200 || wire.status === 201) return done();
            const later = wire.status === 0 || wire.status === 401 || wire.status === 419 || wire.status === 429 || wire.status >= 500;
            let said = '';
            try {
                said = String((JSON.parse(wire.responseText) as { message?: string }).message ?? '');
            } catch {
                // Not ours to read: a proxy's own page.
            }
            fail(new PhotoProblem(later ? 'away' : 'refused', said || `The server answers ${wire.status}.`));
        };
        wire.send(body);
    });
