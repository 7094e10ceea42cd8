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
    ) {
        super(message);
    }
}

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

/** Writes carry an idempotency key, so repeating one that got no answer is safe. */
async function patientFetch(request: Request): Promise<Response> {
    const token = document.cookie.match(/(?:^|; )XSRF-TOKEN=([^;]+)/)?.[1];
    if (token) request.headers.set('X-XSRF-TOKEN', decodeURIComponent(token));
    request.headers.set('Accept', 'application/json');
    const tries = request.headers.has('Idempotency-Key') ? 3 : 1;
    for (let n = 1; ; n++) {
        try {
            const response = await fetch(request.clone());
            if (n < tries && [502, 503, 504].includes(response.status)) throw new TypeError('the server is away');
            return response;
        } catch (error) {
            if (n >= tries) throw error;
            await pause(400 * n);
        }
    }
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
    throw new ApiError(answer.response.status, e.code ?? 'fault', e.message ?? 'The server did not answer as it should. Try again.', e.fields ?? {});
}
