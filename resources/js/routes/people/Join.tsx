import { slots } from '@/lib/slots';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { useController } from 'react-hook-form';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { z } from 'zod';
import { api, unwrap } from '@/api/client';
import { when } from '@/lib/format';
import { fieldErrors } from '@/lib/job';
import { useBenchForm, words } from '@/lib/form';
import { Button } from '@/parts/basics';
import { FormText } from '@/parts/form';
import { PasswordField } from '@/parts/PasswordField';
import { Door, secretOfLink } from './door';

const CODE = z.object({ secret: words('the code, as it was given to you.') });
const JOIN = z.object({ name: z.string().trim(), email: z.string().trim(), password: words('a password of your own.') });

/** Follows an invitation or a reset: by its link, or by the code that was read out. */
export function Component() {
    const code = useBenchForm(CODE, { secret: secretOfLink() });
    const form = useBenchForm(JOIN, { name: '', email: '', password: '' });
    const at = { control: form.control };
    const queries = useQueryClient();
    const navigate = useNavigate();
    const look = useMutation({
        mutationFn: (typed: string) => unwrap(api.POST('/api/join/look', { body: { secret: typed } })),
        onSuccess: (found) => form.reset({ name: found.name, email: found.email, password: '' }),
        onError: (e) => code.setError('secret', { type: 'server', message: e.message }),
    });
    const join = useMutation({
        mutationFn: ({ name, email, password }: z.output<typeof JOIN>) =>
            unwrap(
                api.POST('/api/join', {
                    body: { secret: code.getValues('secret'), password, name: name || null, email: email || null },
                }),
            ),
        onError: (e) => void form.refused(e),
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
    const password = useController({ ...at, name: 'password' });
    const errors = fieldErrors(join.error);
    return (
        <Door>
            {!found ? (
                <form className="grid gap-4 w-full max-w-sm" noValidate onSubmit={code.handleSubmit(({ secret }) => look.mutate(secret))}>
                    <h1 className="text-3xl">Come in</h1>
                    <FormText
                        control={code.control}
                        name="secret"
                        label="Code of the invitation or reset"
                        hint="Sixteen letters and digits, as the owner gave them to you"
                        autoFocus
                        autoComplete="off"
                        className="digits"
                    />
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
                <form className="grid gap-4 w-full max-w-sm" noValidate onSubmit={form.handleSubmit((typed) => join.mutate(typed))}>
                    <div>
                        <h1 className="text-3xl">{found.kind === 'reset' ? 'A new password' : `Join ${found.workshop}`}</h1>
                        <p className="text-muted">
                            {found.kind === 'reset' ? `${found.name}, ${found.workshop}. Open sessions end.` : `As ${found.role}.`} Good
                            until {when(found.expires_at)}.
                        </p>
                    </div>
                    {found.kind === 'join' && (
                        <>
                            <FormText {...at} name="name" label="Your name" autoComplete="name" />
                            <FormText
                                {...at}
                                name="email"
                                label="Your e-mail"
                                hint="You sign in with it"
                                type="email"
                                autoComplete="username"
                            />
                        </>
                    )}
                    <PasswordField
                        label="Your password"
                        error={password.fieldState.error?.message}
                        value={password.field.value}
                        onChange={password.field.onChange}
                    />
                    {join.error && Object.keys(errors).length === 0 && <p role="alert">{join.error.message}</p>}
                    <Button type="submit" look="main" disabled={join.isPending}>
                        {found.kind === 'reset' ? 'Set it' : 'Come in'}
                    </Button>
                </form>
            )}
        </Door>
    );
}
