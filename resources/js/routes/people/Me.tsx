import { slots } from '@/lib/slots';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import QRCode from 'qrcode';
import { type FormEvent, useEffect, useState } from 'react';
import { toast } from 'sonner';
import { api, key, type Person, unwrap } from '@/api/client';
import { usePerson } from '@/lib/bench';
import { fieldErrors } from '@/lib/job';
import { Button, Field } from '@/parts/basics';
import { PasswordField } from '@/parts/PasswordField';
import { SessionList } from './Sessions';

/** One's own keys: password, personal code, second factor, sessions. */
export function Component() {
    const me = usePerson();
    const queries = useQueryClient();
    const keep = (person: Person) => queries.setQueryData(slots.session(), person);
    const sessions = useQuery({ queryKey: slots.sessions(), queryFn: () => unwrap(api.GET('/api/sessions')) });
    const end = useMutation({
        mutationFn: (signIn: string) => unwrap(api.DELETE('/api/sessions/{signIn}', { params: { path: { signIn } } })),
        onSuccess: (data) => queries.setQueryData(slots.sessions(), data),
        onError: (e) => toast.error(e.message),
    });
    return (
        <div className="p-5 grid gap-5 max-w-5xl">
            <h1>
                {me.name}{' '}
                <span className="text-muted font-normal text-xl">
                    {me.role}, {me.email}
                </span>
            </h1>
            {me.second_factor_first && (
                <p role="alert" className="border-l-4 border-ember bg-knot rounded-r px-4 py-3 font-bold">
                    This workshop wants a second factor of its owners: set it up here, then everything opens.
                </p>
            )}
            <div className="grid gap-5 lg:grid-cols-2 items-start">
                <SecondFactor me={me} keep={keep} />
                <Code me={me} keep={keep} />
                <Password keep={keep} />
                <section className="sheet p-4 grid gap-3" aria-label="What I may do alone">
                    <h2>What has been shown to me</h2>
                    {me.competence.length === 0 && (
                        <p className="text-muted">Nothing is noted yet. The owner notes what somebody has learnt, under People.</p>
                    )}
                    <ul>
                        {me.competence.map((c, i) => (
                            <li key={i}>
                                <b>{c.what}</b> {c.note} <span className="text-muted">{c.at}</span>
                            </li>
                        ))}
                    </ul>
                </section>
            </div>
            <section className="sheet p-4 grid gap-3" aria-label="Open sessions">
                <h2>Open sessions</h2>
                <p className="text-muted">
                    A session ends after {me.workshop.idle_minutes} minutes without a touch, and with the password. What is not sent yet
                    stays on its bench under your name.
                </p>
                {sessions.data && <SessionList sessions={sessions.data.sessions} onEnd={(id) => end.mutate(id)} />}
            </section>
        </div>
    );
}

function Password({ keep }: { keep: (p: Person) => void }) {
    const [form, setForm] = useState({ current: '', password: '' });
    const change = useMutation({
        mutationFn: () => unwrap(api.POST('/api/me/password', { body: form })),
        onSuccess: (person) => {
            keep(person);
            setForm({ current: '', password: '' });
            toast.success('The password is changed. Other sessions of yours have ended.');
        },
    });
    const errors = fieldErrors(change.error);
    return (
        <form
            className="sheet p-4 grid gap-3"
            onSubmit={(e: FormEvent) => {
                e.preventDefault();
                change.mutate();
            }}
        >
            <h2>Password</h2>
            <Field
                label="The one you have"
                error={errors['current'] ?? (change.error && Object.keys(errors).length === 0 ? change.error.message : undefined)}
            >
                {(p) => (
                    <input
                        {...p}
                        type="password"
                        required
                        autoComplete="current-password"
                        value={form.current}
                        onChange={(e) => setForm({ ...form, current: e.target.value })}
                    />
                )}
            </Field>
            <PasswordField
                label="A new one"
                error={errors['password']}
                value={form.password}
                onChange={(password) => setForm({ ...form, password })}
            />
            <div>
                <Button type="submit" disabled={change.isPending}>
                    Change the password
                </Button>
            </div>
        </form>
    );
}

function Code({ me, keep }: { me: Person; keep: (p: Person) => void }) {
    const [code, setCode] = useState('');
    const change = useMutation({
        mutationFn: () => unwrap(api.POST('/api/me/code', { params: { header: key() }, body: { code } })),
        onSuccess: (person) => {
            keep(person);
            setCode('');
            toast.success('The personal code is set.');
        },
    });
    const errors = fieldErrors(change.error);
    return (
        <form
            className="sheet p-4 grid gap-3"
            onSubmit={(e: FormEvent) => {
                e.preventDefault();
                change.mutate();
            }}
        >
            <h2>Personal code</h2>
            <p>
                {me.limits.code_digits} digits that hand a shared bench to you while somebody is signed in. It opens no door by itself, and
                not what asks for the password. <b>{me.has_code ? 'You have one.' : 'You have none yet.'}</b>
            </p>
            <Field
                label="A new code"
                error={errors['code'] ?? (change.error && Object.keys(errors).length === 0 ? change.error.message : undefined)}
            >
                {(p) => (
                    <input
                        {...p}
                        type="password"
                        inputMode="numeric"
                        maxLength={me.limits.code_digits}
                        required
                        autoComplete="off"
                        className="digits"
                        value={code}
                        onChange={(e) => setCode(e.target.value)}
                    />
                )}
            </Field>
            <div>
                <Button type="submit" disabled={change.isPending}>
                    Set the code
                </Button>
            </div>
        </form>
    );
}

function SecondFactor({ me, keep }: { me: Person; keep: (p: Person) => void }) {
    const queries = useQueryClient();
    const [code, setCode] = useState('');
    const [svg, setSvg] = useState<string | null>(null);
    const begin = useMutation({
        mutationFn: () => unwrap(api.POST('/api/me/second-factor', { params: { header: key() }, body: {} })),
        onError: (e) => toast.error(e.message),
    });
    const confirm = useMutation({
        mutationFn: () => unwrap(api.POST('/api/me/second-factor/confirm', { params: { header: key() }, body: { code } })),
        onSuccess: () => {
            begin.reset();
            setCode('');
        },
    });
    const end = useMutation({
        mutationFn: () => unwrap(api.DELETE('/api/me/second-factor', { params: { header: key() } })),
        onSuccess: (person) => {
            keep(person);
            toast.success('The second factor is off.');
        },
        onError: (e) => toast.error(e.message),
    });
    const uri = begin.data?.uri;
    useEffect(() => {
        setSvg(null);
        if (uri) void QRCode.toDataURL(uri, { margin: 1, width: 200 }).then(setSvg);
    }, [uri]);
    const errors = fieldErrors(confirm.error);
    return (
        <section className="sheet p-4 grid gap-3" aria-label="Second factor">
            <h2>Second factor</h2>
            {confirm.data ? (
                <>
                    <p className="font-bold">
                        It is on. Keep these recovery codes where your telephone is not: each is good once, and they are not shown again.
                    </p>
                    <ul className="digits grid grid-cols-2 gap-1" data-testid="recovery">
                        {confirm.data.recovery_codes.map((c) => (
                            <li key={c}>{c}</li>
                        ))}
                    </ul>
                    <div>
                        <Button
                            look="main"
                            onClick={() => {
                                confirm.reset();
                                void queries.invalidateQueries({ queryKey: slots.session() });
                            }}
                        >
                            I have kept them
                        </Button>
                    </div>
                </>
            ) : me.second_factor ? (
                <>
                    <p>
                        <b>It is on.</b> Signing in asks for the code of your authenticator.
                    </p>
                    <div>
                        <Button look="stop" onClick={() => end.mutate()} disabled={end.isPending}>
                            Switch it off
                        </Button>
                    </div>
                </>
            ) : begin.data ? (
                <form
                    className="grid gap-3"
                    onSubmit={(e: FormEvent) => {
                        e.preventDefault();
                        confirm.mutate();
                    }}
                >
                    <p>Let your authenticator read this square, or type the key into it. Then type the code that it shows.</p>
                    <div className="flex flex-wrap gap-4 items-center">
                        {svg && <img src={svg} alt="The key as a square code" width={180} height={180} />}
                        <span className="digits break-all max-w-56" data-testid="totp-secret">
                            {begin.data.secret}
                        </span>
                    </div>
                    <Field label="Code that it shows" error={errors['code']}>
                        {(p) => (
                            <input
                                {...p}
                                required
                                inputMode="numeric"
                                autoComplete="one-time-code"
                                className="digits"
                                value={code}
                                onChange={(e) => setCode(e.target.value)}
                            />
                        )}
                    </Field>
                    <div>
                        <Button type="submit" look="main" disabled={confirm.isPending}>
                            Switch it on
                        </Button>
                    </div>
                </form>
            ) : (
                <>
                    <p>A code from an authenticator beside the password: whoever learns the password alone does not get in.</p>
                    <div>
                        <Button onClick={() => begin.mutate()} disabled={begin.isPending}>
                            Set it up
                        </Button>
                    </div>
                </>
            )}
        </section>
    );
}
