import { slots } from '@/lib/slots';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useEffect, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { api, unwrap } from '@/api/client';
import { when } from '@/lib/format';
import { fieldErrors } from '@/lib/job';
import { Button, Field } from '@/parts/basics';
import { PasswordField } from '@/parts/PasswordField';
import { Door, secretOfLink } from './door';

/** Follows an invitation or a reset: by its link, or by the code that was read out. */
export function Component() {
    const [secret, setSecret] = useState(secretOfLink);
    const [form, setForm] = useState({ name: '', email: '', password: '' });
    const queries = useQueryClient();
    const navigate = useNavigate();
    const look = useMutation({
        mutationFn: (typed: string) => unwrap(api.POST('/api/join/look', { body: { secret: typed } })),
        onSuccess: (found) => setForm((f) => ({ ...f, name: found.name, email: found.email })),
    });
    const join = useMutation({
        mutationFn: () =>
            unwrap(
                api.POST('/api/join', { body: { secret, password: form.password, name: form.name || null, email: form.email || null } }),
            ),
        onSuccess: (entered) => {
            if (!entered.signed_in) {
                toast.success('The password is set. Sign in with it and your authenticator.');
                void navigate('/sign-in', { replace: true });
                return;
            }
            queries.clear();
            queries.setQueryData(slots.session(), entered.signed_in);
            void navigate('/me', { replace: true });
        },
    });
    const { mutate } = look;
    useEffect(() => {
        const linked = secretOfLink();
        if (linked !== '') mutate(linked);
    }, [mutate]);
    const found = look.data;
    const errors = { ...fieldErrors(look.error), ...fieldErrors(join.error) };
    return (
        <Door>
            {!found ? (
                <form
                    className="grid gap-4 w-full max-w-sm"
                    onSubmit={(e: FormEvent) => {
                        e.preventDefault();
                        look.mutate(secret);
                    }}
                >
                    <h1 className="text-3xl">Come in</h1>
                    <Field
                        label="Code of the invitation or reset"
                        error={look.error ? look.error.message : undefined}
                        hint="Sixteen letters and digits, as the owner gave them to you"
                    >
                        {(p) => (
                            <input
                                {...p}
                                required
                                autoFocus
                                autoComplete="off"
                                className="digits"
                                value={secret}
                                onChange={(e) => setSecret(e.target.value)}
                            />
                        )}
                    </Field>
                    <Button type="submit" look="main" disabled={look.isPending}>
                        Look
                    </Button>
                    <p>
                        <Link to="/sign-in" className="underline underline-offset-4">
                            Sign in instead
                        </Link>
                    </p>
                </form>
            ) : (
                <form
                    className="grid gap-4 w-full max-w-sm"
                    onSubmit={(e: FormEvent) => {
                        e.preventDefault();
                        join.mutate();
                    }}
                >
                    <div>
                        <h1 className="text-3xl">{found.kind === 'reset' ? 'A new password' : `Join ${found.workshop}`}</h1>
                        <p className="text-muted">
                            {found.kind === 'reset' ? `${found.name}, ${found.workshop}. Open sessions end.` : `As ${found.role}.`} Good
                            until {when(found.expires_at)}.
                        </p>
                    </div>
                    {found.kind === 'join' && (
                        <>
                            <Field label="Your name" error={errors['name']}>
                                {(p) => (
                                    <input
                                        {...p}
                                        required
                                        autoComplete="name"
                                        value={form.name}
                                        onChange={(e) => setForm({ ...form, name: e.target.value })}
                                    />
                                )}
                            </Field>
                            <Field label="Your e-mail" error={errors['email']} hint="You sign in with it">
                                {(p) => (
                                    <input
                                        {...p}
                                        type="email"
                                        required
                                        autoComplete="username"
                                        value={form.email}
                                        onChange={(e) => setForm({ ...form, email: e.target.value })}
                                    />
                                )}
                            </Field>
                        </>
                    )}
                    <PasswordField
                        label="Your password"
                        error={errors['password']}
                        value={form.password}
                        onChange={(password) => setForm({ ...form, password })}
                    />
                    {join.error && !errors['password'] && !errors['email'] && <p role="alert">{join.error.message}</p>}
                    <Button type="submit" look="main" disabled={join.isPending}>
                        {found.kind === 'reset' ? 'Set it' : 'Come in'}
                    </Button>
                </form>
            )}
        </Door>
    );
}
