import { useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { api, ApiError, unwrap } from '@/api/client';
import { Button, Field } from '@/parts/basics';

export function Component() {
    const [email, setEmail] = useState('');
    const [password, setPassword] = useState('');
    const [error, setError] = useState<string | null>(null);
    const [params] = useSearchParams();
    const navigate = useNavigate();
    const queries = useQueryClient();
    const submit = async (e: FormEvent) => {
        e.preventDefault();
        setError(null);
        try {
            const sign = () => unwrap(api.POST('/api/session', { body: { email, password } }));
            const person = await sign().catch(async (problem: unknown) => {
                // The page is older than the session it came with: a fresh token, and what was typed is sent once more.
                if (!(problem instanceof ApiError) || problem.status !== 419) throw problem;
                await fetch('/sign-in', { cache: 'no-store' });
                return sign();
            });
            queries.clear();
            queries.setQueryData(['session'], person);
            const to = params.get('to') ?? '/';
            void navigate(to.startsWith('/') && !to.startsWith('//') ? to : '/', { replace: true });
        } catch (problem) {
            const e2 = problem as ApiError;
            setError(e2.fields['password'] ?? e2.fields['email'] ?? e2.message);
        }
    };
    return (
        <main className="min-h-screen grid md:grid-cols-[1.1fr_1fr]">
            <div aria-hidden="true" className="hidden md:block relative overflow-hidden bg-[#e6cf9f]">
                <svg viewBox="0 0 600 800" preserveAspectRatio="xMidYMid slice" className="absolute inset-0 w-full h-full">
                    {Array.from({ length: 26 }, (_, i) => (
                        <ellipse
                            key={i}
                            cx={250 + Math.sin(i) * 3}
                            cy={430 + Math.cos(i * 1.7) * 4}
                            rx={16 + i * 21 + (i % 4) * 3}
                            ry={18 + i * 22}
                            fill="none"
                            stroke={i % 5 === 0 ? '#8a5a2b' : '#b88a51'}
                            strokeWidth={i % 5 === 0 ? 4 : 2}
                            opacity={0.75}
                        />
                    ))}
                    <circle cx="250" cy="430" r="9" fill="#68401f" />
                </svg>
            </div>
            <div className="grid place-items-center p-8">
                <form onSubmit={(e) => void submit(e)} className="grid gap-5 w-full max-w-sm">
                    <div>
                        <h1 className="text-3xl">Heartwood</h1>
                        <p className="text-muted">The repair bench for lithium packs.</p>
                    </div>
                    <Field label="E-mail">
                        {(p) => (
                            <input {...p} type="email" autoComplete="username" required autoFocus value={email} onChange={(e) => setEmail(e.target.value)} />
                        )}
                    </Field>
                    <Field label="Password" error={error ?? undefined}>
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
                    <Button type="submit" look="main">
                        Sign in
                    </Button>
                </form>
            </div>
        </main>
    );
}
