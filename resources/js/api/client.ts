import createClient from 'openapi-fetch';
import { v4 } from 'uuid';
import type { components, paths } from './schema';

type Schemas = components['schemas'];
export type Job = Schemas['Job'];
export type BenchRow = Schemas['BenchRow'];
export type Person = Schemas['Person'];
export type Measurement = Schemas['Measurement'];
export type Reading = Schemas['Reading'];
export type LiveCheck = Schemas['LiveCheck'];
export type Stage = Schemas['Stage'];
export type ProofCheck = Schemas['ProofCheck'];
export type Basis = Schemas['Basis'];
export type Finding = Schemas['VerdictDocument']['findings'][number];

export class ApiError extends Error {
    constructor(
        readonly status: number,
        readonly code: string,
        message: string,
        readonly fields: Record<string, string> = {},
        /** Of a clash: what the row is now, in the fields of the edit. */
        readonly now: Record<string, unknown> | null = null,
    ) {
        super(message);
    }
}

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

let acting: number | null = null;
let touched = Date.now();
let prove: (() => Promise<boolean>) | null = null;

/** Says who acts on this screen; the server refuses what a screen of somebody else would do in their name. */
export const actsAs = (person: number | null) => {
    acting = person;
};

/** What asks for the password again, where the server wants it proved; answers whether it was. */
export const askForProof = (ask: (() => Promise<boolean>) | null) => {
    prove = ask;
};

if (typeof window !== 'undefined')
    for (const kind of ['pointerdown', 'keydown', 'wheel'])
        window.addEventListener(kind, () => (touched = Date.now()), { capture: true, passive: true });

/** A screen that only looks again by itself is no touch: a session left alone ends. Whoever watches a run is there. */
const QUIET_AFTER_MS = 60_000;

/** Writes carry an idempotency key, so repeating one that got no answer is safe. */
async function patientFetch(request: Request): Promise<Response> {
    renew(request);
    request.headers.set('Accept', 'application/json');
    if (acting !== null) request.headers.set('X-Heartwood-Person', String(acting));
    const { pathname } = new URL(request.url);
    // A bench that asks by itself whether all of it is kept is no touch either.
    const byItself = request.method === 'GET' || pathname.startsWith('/api/outbox');
    if (byItself && Date.now() - touched > QUIET_AFTER_MS && !pathname.startsWith('/api/runs/'))
        request.headers.set('X-Heartwood-Quiet', '1');
    const tries = request.headers.has('Idempotency-Key') ? 3 : 1;
    for (let n = 1; ; n++) {
        try {
            const response = await fetch(request.clone());
            if (n < tries && [502, 503, 504].includes(response.status)) throw new TypeError('the server is away');
            // The session of a shared bench may have moved on to the next person in another window.
            if (response.status === 409 && (await codeOf(response)) === 'other-person' && !request.url.endsWith('/api/outbox'))
                window.dispatchEvent(new Event('heartwood-other-person'));
            if (response.status === 403 && prove !== null && (await codeOf(response)) === 'prove' && (await prove())) {
                renew(request);
                return await fetch(request.clone());
            }
            return response;
        } catch (error) {
            if (n >= tries) throw error;
            await pause(400 * n);
        }
    }
}

const codeOf = async (response: Response): Promise<unknown> => {
    try {
        return ((await response.clone().json()) as { code?: unknown }).code;
    } catch {
        return null;
    }
};

function renew(request: Request) {
    const token = document.cookie.match(/(?:^|; )XSRF-TOKEN=([^;]+)/)?.[1];
    if (token) request.headers.set('X-XSRF-TOKEN', decodeURIComponent(token));
}

export const api = createClient<paths>({ baseUrl: location.origin, fetch: patientFetch });

/** A new idempotency key, as the header parameter of a write. */
export const key = () => ({ 'Idempotency-Key': v4() });

interface Answer<T> {
    data?: T;
    error?: unknown;
    response: Response;
}

/** The data of an answer, or an ApiError that says what went wrong and how to mend it. */
export async function unwrap<T>(call: Promise<Answer<T>>): Promise<T> {
    let answer: Answer<T>;
    try {
        answer = await call;
    } catch {
        throw new ApiError(0, 'away', 'The server cannot be reached. Nothing you typed is lost; try again when it is back.');
    }
    if (answer.response.ok && answer.data !== undefined) return answer.data;
    const e = (answer.error ?? {}) as Partial<Schemas['Error']>;
    const said = e.message ?? 'The server did not answer as it should. Try again.';
    const name = e.request ?? answer.response.headers.get('X-Request-Id');
    throw new ApiError(
        answer.response.status,
        e.code ?? 'fault',
        // By this name the log of the server has it.
        answer.response.status >= 500 && name ? `${said} (Reference ${name})` : said,
        e.fields ?? {},
        e.now ?? null,
    );
}
