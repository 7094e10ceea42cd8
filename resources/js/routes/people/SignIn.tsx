import { slots } from '@/lib/slots';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { Link, Navigate, useNavigate, useSearchParams } from 'react-router';
import { actsAs, api, ApiError, unwrap } from '@/api/client';
import { Button, Field } from '@/parts/basics';
import { Door } from './door';

export function Component() {
    const [email, setEmail] = useState('');
    const [password, setPassword] = useState('');
    const [code, setCode] = useState('');
    const [wantsCode, setWantsCode] = useState(false);
    const [errors, setErrors] = useState<Record<string, string>>({});
    const [params] = useSearchParams();
    const navigate = useNavigate();
    const queries = useQueryClient();
    const door = useQuery({ queryKey: slots.door(), queryFn: () => unwrap(api.GET('/api/door')), staleTime: 0 });
    const submit = async (e: FormEvent) => {
        e.preventDefault();
        setErrors({});
        actsAs(null);
        try {
            const sign = () => unwrap(api.POST('/api/session', { body: { email, password, ...(wantsCode ? { code } : {}) } }));
            const person = await sign().catch(async (problem: unknown) => {
                // The page is older than the session it came with: a fresh token, and what was typed is sent once more.
                if (!(problem instanceof ApiError) || problem.status !== 419) throw problem;
                await fetch('/sign-in', { cache: 'no-store' });
                return sign();
            });
            queries.clear();
            queries.setQueryData(slots.session(), person);
            const to = params.get('to') ?? '/';
            void navigate(to.startsWith('/') && !to.startsWith('//') ? to : '/', { replace: true });
        } catch (problem) {
            const e2 = problem as ApiError;
            if (e2.code === 'second-factor') {
                setErrors(wantsCode ? e2.fields : {});
                setWantsCode(true);
            } else setErrors({ password: e2.fields['password'] ?? e2.fields['email'] ?? e2.message });
        }
    };
    if (door.data?.empty) return <Navigate to="/start" replace />;
    return (
        <Door>
            <form onSubmit={(e) => void submit(e)} className="grid gap-5 w-full max-w-sm">
                <div>
                    <h1 className="text-3xl">Heartwood</h1>
                    <p className="text-muted">The repair bench for lithium packs.</p>
                </div>
                <Field label="E-mail">
                    {(p) => (
                        <input
                            {...p}
                            type="email"
                            autoComplete="username"
                            required
                            autoFocus
                            value={email}
                            onChange={(e) => setEmail(e.target.value)}
                        />
                    )}
                </Field>
                <Field label="Password" error={errors['password']}>
                    {(p) => (
                        <input
                            {...p}
                            type="password"
                            autoComplete="current-password"
                            required
                            value={password}
                            onChange={(e) => setPassword(e.target.value)}
                        />
                    )}
                </Field>
                {wantsCode && (
                    <Field label="Code of your authenticator" error={errors['code']} hint="Six digits, or one of your recovery codes">
                        {(p) => (
                            <input
                                {...p}
                                autoFocus
                                autoComplete="one-time-code"
                                required
                                value={code}
                                onChange={(e) => setCode(e.target.value)}
                            />
                        )}
                    </Field>
                )}
                <Button type="submit" look="main">
                    Sign in
                </Button>
                <p>
                    <Link to="/join" className="underline underline-offset-4">
                        I have an invitation, or a reset
                    </Link>
                </p>
                {door.data?.demo && (
                    <details className="border-l-4 border-bark bg-knot rounded-r px-4 py-2">
                        <summary className="min-h-[32px]">This server carries the demo workshop</summary>
                        <p>
                            Its password is <b className="digits">{door.data.demo.password}</b>, and good nowhere else.
                        </p>
                        <ul>
                            {door.data.demo.people.map((p) => (
                                <li key={p.email}>
                                    <Button
                                        look="quiet"
                                        onClick={() => {
                                            setEmail(p.email);
                                            setPassword(door.data.demo!.password);
                                        }}
                                    >
                                        {p.role}: {p.email}
                                    </Button>
                                </li>
                            ))}
                        </ul>
                    </details>
                )}
            </form>
        </Door>
    );
}
