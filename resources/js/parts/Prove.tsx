import { slots } from '@/lib/slots';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { api, unwrap } from '@/api/client';
import { usePerson } from '@/lib/bench';
import { fieldErrors } from '@/lib/job';
import { Button, Field } from './basics';
import { Sheet } from './Sheet';

/** The password once more, before something that is not undone easily. */
export function Prove({ onDone }: { onDone: (proved: boolean) => void }) {
    const person = usePerson();
    const queries = useQueryClient();
    const [password, setPassword] = useState('');
    const [code, setCode] = useState('');
    const prove = useMutation({
        mutationFn: () => unwrap(api.POST('/api/session/prove', { body: { password, code: code || null } })),
        onSuccess: (data) => {
            queries.setQueryData(slots.session(), data);
            onDone(true);
        },
    });
    const errors = fieldErrors(prove.error);
    return (
        <Sheet title={`Is it you, ${person.name}?`} onClose={() => onDone(false)}>
            <form
                className="grid gap-4"
                onSubmit={(e: FormEvent) => {
                    e.preventDefault();
                    prove.mutate();
                }}
            >
                <p>
                    What you are about to do is not undone easily. Your password proves that it is you; it then counts for{' '}
                    {person.limits.proved_minutes} minutes.
                </p>
                <Field
                    label="Your password"
                    error={errors['password'] ?? (prove.error && Object.keys(errors).length === 0 ? prove.error.message : undefined)}
                >
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
                {person.second_factor && (
                    <Field label="Code of your authenticator" error={errors['code']} hint="Or a recovery code">
                        {(p) => (
                            <input {...p} autoComplete="one-time-code" required value={code} onChange={(e) => setCode(e.target.value)} />
                        )}
                    </Field>
                )}
                <div>
                    <Button type="submit" look="main" disabled={prove.isPending}>
                        It is me
                    </Button>
                </div>
            </form>
        </Sheet>
    );
}
