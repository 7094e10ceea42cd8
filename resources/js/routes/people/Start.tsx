import { slots } from '@/lib/slots';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, unwrap } from '@/api/client';
import { fieldErrors } from '@/lib/job';
import { Button, Field } from '@/parts/basics';
import { PasswordField } from '@/parts/PasswordField';
import { Door, secretOfLink } from './door';

/** The first page of a new server: the workshop and its owner. */
export function Component() {
    const [form, setForm] = useState({ setup_code: secretOfLink(), workshop: '', name: '', email: '', password: '' });
    const queries = useQueryClient();
    const navigate = useNavigate();
    const start = useMutation({
        mutationFn: () => unwrap(api.POST('/api/start', { body: form })),
        onSuccess: (entered) => {
            queries.clear();
            queries.setQueryData(slots.session(), entered.signed_in);
            void navigate('/settings', { replace: true });
        },
    });
    const errors = fieldErrors(start.error);
    const text = (name: keyof typeof form, label: string, hint?: string, more: Record<string, unknown> = {}) => (
        <Field label={label} error={errors[name]} hint={hint}>
            {(p) => <input {...p} required value={form[name]} onChange={(e) => setForm({ ...form, [name]: e.target.value })} {...more} />}
        </Field>
    );
    return (
        <Door>
            <form
                className="grid gap-4 w-full max-w-md"
                onSubmit={(e: FormEvent) => {
                    e.preventDefault();
                    start.mutate();
                }}
            >
                <div>
                    <h1 className="text-3xl">Open your workshop</h1>
                    <p className="text-muted">You become its owner: prices, people and limits are yours to set.</p>
                </div>
                {text('setup_code', 'Set-up code', 'Printed by ./heartwood up, or by ./heartwood setup-code', {
                    autoFocus: form.setup_code === '',
                    autoComplete: 'off',
                })}
                {text('workshop', 'Name of the workshop', undefined, { autoFocus: form.setup_code !== '', autoComplete: 'organization' })}
                {text('name', 'Your name', undefined, { autoComplete: 'name' })}
                {text('email', 'Your e-mail', 'You sign in with it', { type: 'email', autoComplete: 'username' })}
                <PasswordField
                    label="Your password"
                    error={errors['password']}
                    value={form.password}
                    onChange={(password) => setForm({ ...form, password })}
                />
                {start.error && Object.keys(errors).length === 0 && <p role="alert">{start.error.message}</p>}
                <Button type="submit" look="main" disabled={start.isPending}>
                    Open the workshop
                </Button>
                <p>
                    <Link to="/sign-in" className="underline underline-offset-4">
                        There is a workshop here already: sign in
                    </Link>
                </p>
            </form>
        </Door>
    );
}
