import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { api, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { useMay } from '@/lib/bench';
import { when } from '@/lib/format';
import { slots } from '@/lib/slots';
import { Button } from '@/parts/basics';
import { QueryState } from '@/parts/QueryState';

type All = components['schemas']['Messages'];
type Row = components['schemas']['MessageRow'];
const HOW = { counter: 'at the counter', phone: 'by phone', message: 'by message' } as const;
const DONE: Record<string, string> = { sent: 'sent', copied: 'copied by hand', dropped: 'let go' };

/** Texts to owners of packs in service: prepared when something is due, sent to who agreed to it, or copied by hand. */
export function Component() {
    const all = useQuery({ queryKey: slots.messages(), queryFn: () => unwrap(api.GET('/api/messages')), refetchInterval: 15_000 });
    const owner = useMay('settings');
    if (!all.data) return <QueryState of={all} what="Fetching the messages ..." />;
    const { open, done, mail, kinds, simulated } = all.data;
    const byItself = kinds.filter((k) => k.by_itself);
    return (
        <div className="p-5 grid gap-5 max-w-5xl">
            <div className="flex flex-wrap gap-x-5 items-center">
                <h1 className="grow">Messages to owners</h1>
                <Link to="/packs?due=1" className="min-h-[44px] inline-flex items-center underline underline-offset-4">
                    Packs in service
                </Link>
            </div>
            <p className="text-muted">
                Prepared when a reading or a top-up is due, or when an owner was told to stop.{' '}
                {mail
                    ? byItself.length > 0
                        ? `Sent by itself to who agreed: ${byItself.map((k) => k.title.toLowerCase()).join(', ')}.`
                        : 'None is sent by itself.'
                    : 'No mail server is named yet: they are copied by hand.'}{' '}
                <Link to="/settings#messages" className="underline underline-offset-4">
                    Mail server and what goes by itself
                </Link>
                .
            </p>
            <section aria-label="Prepared" className="grid gap-3">
                <h2>Prepared</h2>
                {open.length === 0 && <p className="text-muted">Nothing is to be told to anybody now.</p>}
                <ul className="grid gap-3">
                    {open.map((m) => (
                        <One key={m.id} message={m} mail={mail} />
                    ))}
                </ul>
            </section>
            {done.length > 0 && (
                <section aria-label="Done" className="grid gap-1">
                    <h2>Done</h2>
                    <ul>
                        {done.map((m) => (
                            <li key={m.id} className="border-t border-line py-1.5 flex flex-wrap gap-x-4">
                                <span className="text-muted w-44">{m.done_at && when(m.done_at)}</span>
                                <span className="grow">
                                    {m.subject}: {m.customer}
                                </span>
                                <span>
                                    {DONE[m.state]}
                                    {m.state === 'sent' && ` to ${m.address}`}
                                    {m.by && `, ${m.by}`}
                                    {m.state === 'dropped' && m.error && `: ${m.error}`}
                                </span>
                            </li>
                        ))}
                    </ul>
                </section>
            )}
            {simulated && owner && <Mailbox />}
        </div>
    );
}

function useWrite<V>(write: (v: V) => Promise<All>) {
    const queries = useQueryClient();
    return useMutation({
        mutationFn: write,
        onSuccess: (now) => {
            queries.setQueryData(slots.messages(), now);
            void queries.invalidateQueries({ queryKey: slots.mailbox() });
        },
        onError: (e) => {
            toast.error(e.message);
            void queries.invalidateQueries({ queryKey: slots.messages() });
        },
    });
}

function One({ message: m, mail }: { message: Row; mail: boolean }) {
    const [how, setHow] = useState<keyof typeof HOW>('counter');
    const path = { message: m.id };
    const send = useWrite(() => unwrap(api.POST('/api/messages/{message}/send', { params: { path, header: key() } })));
    const done = useWrite((as: 'copied' | 'dropped' | 'sent') =>
        unwrap(api.POST('/api/messages/{message}/done', { params: { path, header: key() }, body: { as } })),
    );
    const agree = useWrite((agreed: boolean) =>
        unwrap(
            api.POST('/api/customers/{customer}/messages', {
                params: { path: { customer: m.customer_id }, header: key() },
                body: { kind: m.kind, agreed, how },
            }),
        ),
    );
    const busy = send.isPending || done.isPending || agree.isPending;
    const copy = () =>
        void navigator.clipboard.writeText(`${m.subject}\n\n${m.body}`).then(() => {
            toast.success('The text is copied.');
            done.mutate('copied');
        });
    return (
        <li className={`sheet p-4 grid gap-2 border-l-8 ${m.kind === 'stop' ? 'border-l-ember' : 'border-l-amber'}`}>
            <div className="flex flex-wrap gap-x-4 items-baseline">
                <b className="text-lg grow">{m.subject}</b>
                <Link to={`/packs/${m.pack_id}`} className="underline underline-offset-4">
                    {m.pack}
                </Link>
                <Link to={`/customers/${m.customer_id}`} className="underline underline-offset-4">
                    {m.customer}
                </Link>
                <span className="text-muted">{[m.phone, m.address].filter(Boolean).join(', ') || 'no way to reach them is known'}</span>
            </div>
            <details>
                <summary className="min-h-[44px] flex items-center underline underline-offset-4">The text</summary>
                <p className="whitespace-pre-line border-l-2 border-line pl-3">{m.body}</p>
            </details>
            {m.error && (
                <p role="alert" className="text-ember">
                    {m.error}
                </p>
            )}
            {m.state === 'sending' ? (
                <div className="flex flex-wrap gap-3 items-center">
                    <p className="grow">It was being sent when something broke: look whether it came, then say so.</p>
                    <Button disabled={busy} onClick={() => done.mutate('sent')}>
                        It came
                    </Button>
                    <Button look="quiet" disabled={busy} onClick={() => done.mutate('dropped')}>
                        Let it go
                    </Button>
                </div>
            ) : (
                <div className="flex flex-wrap gap-3 items-center">
                    {m.agreed ? (
                        <>
                            <Button look="main" disabled={busy || !mail || m.address === ''} onClick={() => send.mutate(undefined)}>
                                Send it
                            </Button>
                            <span className="text-muted">They agreed to “{m.title.toLowerCase()}”.</span>
                            <Button look="quiet" disabled={busy} onClick={() => agree.mutate(false)}>
                                Not any more
                            </Button>
                        </>
                    ) : (
                        <span className="flex flex-wrap gap-2 items-center">
                            <span>
                                {m.agreed === false ? 'They do not want it.' : 'Nobody asked them yet.'} Do they agree to be written to when
                                “{m.title.toLowerCase()}”?
                            </span>
                            <select
                                aria-label="How they agreed"
                                className="!w-auto"
                                value={how}
                                onChange={(e) => setHow(e.target.value as keyof typeof HOW)}
                            >
                                {Object.entries(HOW).map(([k, word]) => (
                                    <option key={k} value={k}>
                                        {word}
                                    </option>
                                ))}
                            </select>
                            <Button disabled={busy} onClick={() => agree.mutate(true)}>
                                They agree
                            </Button>
                        </span>
                    )}
                    <span className="grow" />
                    <Button disabled={busy} onClick={copy}>
                        Copy it by hand
                    </Button>
                    <Button look="quiet" disabled={busy} onClick={() => done.mutate('dropped')}>
                        Let it go
                    </Button>
                </div>
            )}
        </li>
    );
}

/** What the simulated mail server of the demo took in: nothing of it went anywhere. */
function Mailbox() {
    const box = useQuery({ queryKey: slots.mailbox(), queryFn: () => unwrap(api.GET('/api/mailbox')) });
    const letters = box.data?.letters ?? [];
    return (
        <section aria-label="Simulated mailbox" className="grid gap-1 border-t border-line pt-3">
            <div className="flex gap-4 items-center">
                <h2 className="grow">Simulated mailbox</h2>
                <Button look="quiet" onClick={() => void box.refetch()}>
                    Look again
                </Button>
            </div>
            <p className="text-muted">The demo has a mail server of its own on this machine: what is sent ends here.</p>
            <ul>
                {letters.map((l, i) => (
                    <li key={l.at + i} className="border-t border-line py-1.5">
                        <details>
                            <summary>
                                {when(l.at)} to {l.to.join(', ')}: <b>{l.subject}</b>
                            </summary>
                            <p className="whitespace-pre-line border-l-2 border-line pl-3">{l.body}</p>
                        </details>
                    </li>
                ))}
            </ul>
        </section>
    );
}
