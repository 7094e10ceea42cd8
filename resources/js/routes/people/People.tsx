import { slots } from '@/lib/slots';
import { clsx } from 'clsx';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useWatch } from 'react-hook-form';
import { Link, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { z } from 'zod';
import { api, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { usePerson } from '@/lib/bench';
import { when } from '@/lib/format';
import { useBenchForm, words } from '@/lib/form';
import { fieldErrors } from '@/lib/job';
import { Button, Field } from '@/parts/basics';
import { QueryState } from '@/parts/QueryState';
import { Clash } from '@/parts/Clash';
import { FormChoice, FormText } from '@/parts/form';
import { Sheet } from '@/parts/Sheet';
import { SecurityLog } from './SecurityLog';
import { SessionList } from './Sessions';

type Member = components['schemas']['StaffMember'];
type Role = Member['role'];

export const ROLES: Record<Role, string> = {
    owner: 'everything, and the shop itself: people, prices, limits',
    senior: 'every pack, and what holds one: releases, overrides, removals',
    technician: 'takes in, decides, recovers, signs off',
    trainee: 'takes in, reads and works; decides nothing',
};

export function Component() {
    const me = usePerson();
    const queries = useQueryClient();
    const [params] = useSearchParams();
    const [open, setOpen] = useState<number | null>(null);
    const [secret, setSecret] = useState<{ secret: string; expires_at: string; for: string } | null>(null);
    const people = useQuery({ queryKey: slots.people(), queryFn: () => unwrap(api.GET('/api/people')) });
    const keep = (data: unknown) => queries.setQueryData(slots.people(), data);
    const withdraw = useMutation({
        mutationFn: (invitation: number) =>
            unwrap(api.DELETE('/api/invitations/{invitation}', { params: { path: { invitation }, header: key() } })),
        onSuccess: keep,
        onError: (e) => toast.error(e.message),
    });
    if (!people.data) return <QueryState of={people} what="Looking who works here ..." />;
    const member = people.data.people.find((p) => p.id === open);
    return (
        <div className="p-5 grid gap-5">
            <div className="flex flex-wrap items-baseline gap-x-4">
                <h1>People</h1>
                <Link to="/training" className="underline underline-offset-4 inline-flex items-center min-h-[44px]">
                    Who is ready for which right
                </Link>
            </div>
            <div className="grid gap-5 lg:grid-cols-[3fr_2fr] items-start">
                <section className="grid gap-2" aria-label="Who works here">
                    <ul className="grid gap-2">
                        {people.data.people.map((p) => (
                            <li
                                key={p.id}
                                className={clsx(
                                    'sheet p-3 grid sm:grid-cols-[1fr_17rem_8.5rem] items-center gap-x-4 gap-y-1',
                                    p.active ? '' : 'opacity-70',
                                )}
                            >
                                <span className="leading-tight">
                                    <b className="text-lg">{p.name}</b> {p.id === me.id && <span className="text-muted">(you)</span>}
                                    <span className="block text-muted">{p.email}</span>
                                </span>
                                <span className="leading-tight">
                                    {p.active ? p.role : <b>disabled</b>}
                                    <span className="block text-muted text-sm">
                                        {[
                                            p.second_factor ? 'second factor' : 'password only',
                                            p.has_code ? 'code' : 'no code',
                                            `${p.sessions.length} open session${p.sessions.length === 1 ? '' : 's'}`,
                                        ].join(', ')}
                                    </span>
                                </span>
                                <Button onClick={() => setOpen(p.id)}>Open {p.name.split(' ')[0]}</Button>
                            </li>
                        ))}
                    </ul>
                    {people.data.invitations.length > 0 && (
                        <>
                            <h2>Not here yet</h2>
                            <ul className="grid gap-2">
                                {people.data.invitations.map((i) => (
                                    <li key={i.id} className="sheet p-3 flex flex-wrap items-center gap-4">
                                        <span className="grow">
                                            {i.kind === 'reset' ? 'Reset for' : 'Invitation for'} <b>{i.name}</b>, {i.role}, until{' '}
                                            {when(i.expires_at)}
                                        </span>
                                        <Button onClick={() => withdraw.mutate(i.id)}>Withdraw</Button>
                                    </li>
                                ))}
                            </ul>
                        </>
                    )}
                </section>
                <Invite
                    done={(made, name) => {
                        setSecret({ ...made, for: name });
                        void queries.invalidateQueries({ queryKey: slots.people() });
                    }}
                />
            </div>
            <SecurityLog open={params.has('log')} />
            {member && <Member key={member.id} member={member} keep={keep} onClose={() => setOpen(null)} onSecret={setSecret} />}
            {secret && (
                <Sheet title={`For ${secret.for}`} onClose={() => setSecret(null)}>
                    <p>
                        Give them the link, or read the code to them. It is shown this once, good once, and until {when(secret.expires_at)}.
                    </p>
                    <Field label="Link">
                        {(p) => (
                            <input {...p} readOnly value={`${location.origin}/join#${secret.secret}`} onFocus={(e) => e.target.select()} />
                        )}
                    </Field>
                    <p>
                        <span className="eyebrow block">Code</span>
                        <b className="digits text-2xl" data-testid="invitation-code">
                            {secret.secret}
                        </b>
                    </p>
                    <p className="text-muted">They open {location.origin}/join on a machine that reaches this server.</p>
                </Sheet>
            )}
        </div>
    );
}

const MEMBER_ROLE = z.enum(['owner', 'senior', 'technician', 'trainee']);
const INVITATION = z.object({
    name: words(),
    email: z
        .string()
        .trim()
        .transform((t) => t || null),
    role: MEMBER_ROLE,
});

function Invite({ done }: { done: (made: { secret: string; expires_at: string }, name: string) => void }) {
    const form = useBenchForm(INVITATION, { name: '', email: '', role: 'technician' });
    const at = { control: form.control };
    const role = useWatch({ ...at, name: 'role' });
    const invite = useMutation({
        mutationFn: (body: z.output<typeof INVITATION>) => unwrap(api.POST('/api/invitations', { params: { header: key() }, body })),
        onSuccess: (made, { name }) => {
            done(made, name);
            form.forget();
        },
        onError: (e) => void form.refused(e),
    });
    return (
        <form className="sheet p-4 grid gap-3" noValidate onSubmit={form.handleSubmit((body) => invite.mutate(body))}>
            <h2>Invite somebody</h2>
            <FormText {...at} name="name" label="Name" />
            <FormText {...at} name="email" label="E-mail, if you know it" type="email" />
            <FormChoice {...at} name="role" label="Role" hint={ROLES[role as Role]}>
                {Object.keys(ROLES).map((r) => (
                    <option key={r}>{r}</option>
                ))}
            </FormChoice>
            {invite.error && Object.keys(fieldErrors(invite.error)).length === 0 && <p role="alert">{invite.error.message}</p>}
            <div>
                <Button type="submit" look="main" disabled={invite.isPending}>
                    Make the invitation
                </Button>
            </div>
        </form>
    );
}

const MEMBER = z.object({ name: words('who it is.'), role: MEMBER_ROLE });
const COMPETENCE = z.object({ what: words('what was shown to them.'), note: z.string() });

function Member({
    member,
    keep,
    onClose,
    onSecret,
}: {
    member: Member;
    keep: (data: unknown) => void;
    onClose: () => void;
    onSecret: (s: { secret: string; expires_at: string; for: string }) => void;
}) {
    const queries = useQueryClient();
    const form = useBenchForm(MEMBER, { name: member.name, role: member.role });
    const at = { control: form.control };
    const role = useWatch({ ...at, name: 'role' });
    const learnt = useBenchForm(COMPETENCE, { what: '', note: '' });
    const path = { colleague: member.id };
    const save = useMutation({
        mutationFn: ({ body, version }: { body: Partial<Pick<Member, 'name' | 'role' | 'active' | 'competence'>>; version?: string }) =>
            unwrap(
                api.PATCH('/api/people/{colleague}', {
                    params: { path, header: { ...key(), 'If-Match': version ?? member.version } },
                    body,
                }),
            ),
        onSuccess: (data) => {
            keep(data);
            toast.success('Kept.');
        },
        onError: (e) => void form.refused(e),
    });
    const reset = useMutation({
        mutationFn: () => unwrap(api.POST('/api/people/{colleague}/reset', { params: { path, header: key() }, body: {} })),
        onSuccess: (made) => {
            onClose();
            onSecret({ ...made, for: member.name });
            void queries.invalidateQueries({ queryKey: slots.people() });
        },
        onError: (e) => toast.error(e.message),
    });
    const ends = useMutation({
        mutationFn: (what: 'sessions' | 'second-factor') =>
            unwrap(
                what === 'sessions'
                    ? api.DELETE('/api/people/{colleague}/sessions', { params: { path, header: key() } })
                    : api.DELETE('/api/people/{colleague}/second-factor', { params: { path, header: key() } }),
            ),
        onSuccess: keep,
        onError: (e) => toast.error(e.message),
    });
    const errors = fieldErrors(save.error);
    return (
        <Sheet title={member.name} onClose={onClose} wide>
            <form
                className="grid gap-3 sm:grid-cols-[2fr_2fr_auto] items-end"
                noValidate
                onSubmit={form.handleSubmit((body) => save.mutate({ body }))}
            >
                <FormText {...at} name="name" label="Name" />
                <FormChoice {...at} name="role" label="Role" hint={ROLES[role]}>
                    {Object.keys(ROLES).map((r) => (
                        <option key={r}>{r}</option>
                    ))}
                </FormChoice>
                <Button type="submit" look="main" disabled={save.isPending}>
                    Keep
                </Button>
            </form>
            <Clash
                error={save.error}
                labels={{ name: 'Name', role: 'Role' }}
                mine={form.getValues()}
                onMine={() =>
                    void queries
                        .fetchQuery({ queryKey: slots.people(), queryFn: () => unwrap(api.GET('/api/people')) })
                        .then((d) => save.mutate({ body: form.getValues(), version: d.people.find((p) => p.id === member.id)?.version }))
                }
                onTheirs={() => {
                    save.reset();
                    void queries.invalidateQueries({ queryKey: slots.people() });
                    onClose();
                }}
            />
            {save.error && Object.keys(errors).length === 0 && !save.error.message.startsWith('Somebody else') && (
                <p role="alert">{save.error.message}</p>
            )}
            <section className="grid gap-2" aria-label="What has been shown">
                <h3>What has been shown to them, and what they may do alone</h3>
                <ul>
                    {member.competence.map((c, i) => (
                        <li key={i} className="flex flex-wrap items-center gap-3">
                            <span className="grow">
                                <b>{c.what}</b> {c.note} <span className="text-muted">{c.at}</span>
                            </span>
                            <Button
                                look="quiet"
                                onClick={() => save.mutate({ body: { competence: member.competence.filter((_, k) => k !== i) } })}
                            >
                                Take back
                            </Button>
                        </li>
                    ))}
                </ul>
                <form
                    className="flex flex-wrap gap-3 items-end"
                    noValidate
                    onSubmit={learnt.handleSubmit(({ what, note }) => {
                        const at = new Date().toISOString().slice(0, 10);
                        save.mutate({ body: { competence: [...member.competence, { what, note: note || null, at }] } });
                        learnt.forget();
                    })}
                >
                    <FormText control={learnt.control} name="what" label="What" />
                    <FormText control={learnt.control} name="note" label="Note" />
                    <Button type="submit">Note it</Button>
                </form>
            </section>
            <section className="grid gap-2" aria-label="Sessions">
                <h3>Sessions</h3>
                <SessionList sessions={member.sessions} />
            </section>
            <div className="flex flex-wrap gap-2">
                <Button onClick={() => reset.mutate()} disabled={!member.active || reset.isPending}>
                    Reset the password
                </Button>
                <Button onClick={() => ends.mutate('sessions')} disabled={member.sessions.length === 0}>
                    End all sessions
                </Button>
                {member.second_factor && <Button onClick={() => ends.mutate('second-factor')}>Switch their second factor off</Button>}
                <Button look={member.active ? 'stop' : 'plain'} onClick={() => save.mutate({ body: { active: !member.active } })}>
                    {member.active ? 'Disable' : 'Let them in again'}
                </Button>
            </div>
            <p className="text-muted">
                Disabling ends every session at once; what they did stays under their name. <Link to="?log">Security log</Link>
            </p>
        </Sheet>
    );
}
