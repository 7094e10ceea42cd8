// What the benches share: a signed-in client of the API, and the pids of our own programs.
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import net from 'node:net';

export const base = process.env.BASE_URL;
export const sleep = (ms) => new Promise((done) => setTimeout(done, ms));

/** One signed-in screen of its own: its cookies, and what it asks with them. */
export function session() {
    const jar = new Map();
    const keep = (response) => {
        for (const cookie of response.headers.getSetCookie()) {
            const [pair] = cookie.split(';');
            jar.set(pair.slice(0, pair.indexOf('=')), pair.slice(pair.indexOf('=') + 1));
        }
    };

    /** One request with any text as its body, and the answer whatever it is. */
    async function raw(method, path, text, headers = {}, timeout = 30_000) {
        const response = await fetch(base + path, {
            method,
            headers: {
                Accept: 'application/json',
                'Content-Type': 'application/json',
                Cookie: [...jar].map(([k, v]) => `${k}=${v}`).join('; '),
                ...(jar.has('XSRF-TOKEN') ? { 'X-XSRF-TOKEN': decodeURIComponent(jar.get('XSRF-TOKEN')) } : {}),
                ...headers,
            },
            body: text,
            signal: AbortSignal.timeout(timeout),
        });
        keep(response);
        return response;
    }

    async function call(method, path, body, headers = {}, timeout = 10_000) {
        const response = await raw(method, path, body === undefined ? undefined : JSON.stringify(body), headers, timeout);
        if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
        return response.json();
    }

    const write = (path, body) => call('POST', path, body, { 'Idempotency-Key': randomUUID() });

    async function signIn(email = 'sunniva@gannetquay.example') {
        keep(await fetch(base + '/sign-in', { signal: AbortSignal.timeout(30_000) }));
        return call('POST', '/api/session', { email, password: 'growth-rings' });
    }

    return { raw, call, write, signIn };
}

const one = session();
export const { raw, call, write, signIn } = one;

/** Somebody looks at the open pack and sees nothing: without it no run starts. */
const { looks } = JSON.parse(readFileSync(new URL('../contract/words.json', import.meta.url), 'utf8'));
export const look = (job, screen = one) =>
    screen.write(`/api/jobs/${job}/triage`, {
        moment: 'open',
        inspection: Object.fromEntries(looks.filter((l) => l.outside).map((l) => [l.key, false])),
    });

/** What a line may say, bytes: the ids of all that a long drill has stored. */
const SAYS = 512 * 1024 * 1024;

/** Runs a line with the instance's own functions. */
export const shell = (line) =>
    execFileSync('bash', ['-c', `. bin/lib.sh; ensure_env; ${line}`], {
        env: { ...process.env, HEARTWOOD_INSTANCE: 'bench' },
        maxBuffer: SAYS,
    })
        .toString()
        .trim();
export const pidOf = (program) => Number(shell(`ctl pid ${program}`));

/** Seconds of one processor that the machine's other guests have had since it began (proc(5), 100 ticks a second). */
export const stolen = () => Number(readFileSync('/proc/stat', 'utf8').split('\n')[0].split(/\s+/)[8]) / 100;

/** One line to the simulated hand, past the server: it must answer when the server is dead. */
export const hand = (message) =>
    new Promise((done, failed) => {
        const s = net.connect(Number(process.env.BENCH_PORT) + 4, '127.0.0.1', () => s.write(JSON.stringify(message) + '\n'));
        let text = '';
        s.setTimeout(3000, () => s.destroy(new Error('the hand does not answer')));
        s.on('error', failed);
        // Killed while it answers, it ends the conversation and says no more.
        s.on('close', () => failed(new Error('the hand is gone')));
        s.on('data', (d) => {
            text += d;
            if (text.endsWith('\n')) {
                s.destroy();
                done(JSON.parse(text));
            }
        });
    });
