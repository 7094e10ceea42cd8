import { slots } from '@/lib/slots';
import { useQueryClient } from '@tanstack/react-query';
import {
    createContext,
    type ReactNode,
    startTransition,
    useCallback,
    useContext,
    useEffect,
    useMemo,
    useState,
    useSyncExternalStore,
} from 'react';
import { api, ApiError, type Job, type Person, unwrap } from '@/api/client';
import { holdJobsAgainst } from './job';
import { withStored } from './stored';
import { toast } from 'sonner';
import { type Draft, type Entry, NO_DISK, NOTHING, Outbox, SendProblem, type State } from './outbox';

const RETRY_MS = 2_500;
/** A job is asked for anew when nothing has been read for so long: while taps are taken one after another, it is known what they are. */
const SETTLES_MS = 2_500;
/** How often a server is asked whether it is no further back than it was. */
const AGREE_MS = 60_000;

const PersonContext = createContext<Person | null>(null);
const OutboxContext = createContext<Outbox | null>(null);

async function send(outboxId: string, entries: Entry[], check: string | null) {
    try {
        return await unwrap(
            api.POST('/api/outbox', {
                body: {
                    outbox_id: outboxId,
                    check,
                    // What this bench's clock shows now: where it is off, the times of what was taken are set right by it.
                    sent_at: new Date().toISOString(),
                    entries: entries.map(({ seq, id, kind, job_id, at, data }) => ({ seq, id, kind, job_id, at, data })),
                },
            }),
        );
    } catch (error) {
        const e = error as ApiError;
        if (e.status === 401 || e.status === 419)
            throw new SendProblem('signed-out', 'You are signed out. Sign in again and everything is sent under your name.');
        if (e.code === 'other-person') throw new SendProblem('other-person', e.message);
        if (e.code === 'gap') throw new SendProblem('gap', e.message, Number(e.message.match(/send from (\d+)/)?.[1]));
        throw new SendProblem(e.status === 0 || e.status >= 500 ? 'away' : 'fault', e.message);
    }
}

async function missing(entries: Pick<Entry, 'id' | 'kind' | 'job_id'>[]) {
    try {
        return (await unwrap(api.POST('/api/outbox/missing', { body: { entries } }))).missing;
    } catch (error) {
        throw new SendProblem('away', (error as Error).message);
    }
}

/** Holds who is signed in and that person's outbox, and keeps trying to send. */
export function BenchProvider({ person, children }: { person: Person; children: ReactNode }) {
    const outbox = useMemo(() => new Outbox(person.id, send, undefined, missing), [person.id]);
    const queries = useQueryClient();
    useEffect(() => {
        const settling = new Map<number, ReturnType<typeof setTimeout>>();
        outbox.onStored = (entries, check) => {
            if (check) queries.setQueryData(slots.check(check.measurement_id), check);
            // What was sent only now, after a page was left, is news to the bench that is shown.
            void queries.invalidateQueries({ queryKey: slots.bench() });
            for (const id of new Set(entries.map((e) => e.job_id))) {
                // An answer that was asked for earlier does not know these entries yet: it must not come in after them.
                void queries.cancelQueries({ queryKey: slots.job(id) });
                queries.setQueryData<Job>(['job', id], (job) => job && withStored(job, entries, person.name));
                const only = entries.every((e) => e.job_id !== id || e.kind === 'reading' || e.kind === 'measurement');
                clearTimeout(settling.get(id));
                void queries.invalidateQueries({ queryKey: slots.job(id), refetchType: only ? 'none' : 'active' });
                if (only)
                    settling.set(
                        id,
                        setTimeout(() => void queries.invalidateQueries({ queryKey: slots.job(id) }), SETTLES_MS),
                    );
            }
        };
        outbox.onStale = (job) => void queries.invalidateQueries({ queryKey: slots.job(job) });
        holdJobsAgainst((job) =>
            outbox.seen(
                job.id,
                job.measurements.flatMap((m) => [m.id, ...m.readings.map((r) => r.id)]),
            ),
        );
        const again = () => void outbox.flush();
        const agree = () => void outbox.agree();
        void outbox.load().then(again).then(agree);
        const timer = setInterval(() => (outbox.snapshot().waiting.length > 0 || !outbox.snapshot().loaded) && again(), RETRY_MS);
        // A server that was set back while nothing was typed is found all the same.
        const asked = setInterval(agree, AGREE_MS);
        window.addEventListener('online', again);
        return () => {
            clearInterval(timer);
            clearInterval(asked);
            window.removeEventListener('online', again);
            holdJobsAgainst(null);
            settling.forEach((t) => clearTimeout(t));
            outbox.close();
        };
    }, [outbox, person.name, queries]);
    return (
        <PersonContext.Provider value={person}>
            <OutboxContext.Provider value={outbox}>{children}</OutboxContext.Provider>
        </PersonContext.Provider>
    );
}

export function usePerson(): Person {
    const person = useContext(PersonContext);
    if (!person) throw new Error('nobody is signed in');
    return person;
}

export const useMay = (right: string) => usePerson().rights.includes(right);

export function useOutbox(): Outbox {
    const outbox = useContext(OutboxContext);
    if (!outbox) throw new Error('nobody is signed in');
    return outbox;
}

/** Keeps entries on this bench, to be sent; answers whether they are on its disk, and says it where they are not. */
export function useKeep(): (...drafts: Draft[]) => Promise<boolean> {
    const outbox = useOutbox();
    return useCallback(
        async (...drafts) => {
            try {
                await outbox.addAll(drafts);
                return true;
            } catch (e) {
                toast.error(NO_DISK + String(e));
                return false;
            }
        },
        [outbox],
    );
}

/** The same at once: what says whether a number is safe does not lag behind the hand. For small things alone. */
export function useOutboxNow(): State {
    const box = useOutbox();
    return useSyncExternalStore(box.subscribe, box.snapshot);
}

/** What is kept and what waits. Never drawn before what a hand just did: it is told in a transition. */
export function useOutboxState(): State {
    const box = useContext(OutboxContext);
    const [state, setState] = useState<State>(() => box?.snapshot() ?? NOTHING);
    useEffect(() => {
        setState(box?.snapshot() ?? NOTHING);
        const end = box?.subscribe(() => startTransition(() => setState(box.snapshot())));
        return () => void end?.();
    }, [box]);
    return state;
}
