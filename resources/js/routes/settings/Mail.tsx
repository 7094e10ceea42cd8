import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { api, key, unwrap } from '@/api/client';
import { slots } from '@/lib/slots';
import { Button, Field } from '@/parts/basics';

/** The password at the mail server, which nobody is told again, and a letter to oneself that shows whether the settings are right. */
export function Mail() {
    const queries = useQueryClient();
    const [password, setPassword] = useState('');
    const state = useQuery({ queryKey: slots.messages(), queryFn: () => unwrap(api.GET('/api/messages')) });
    const keep = useMutation({
        mutationFn: () => unwrap(api.PUT('/api/mail', { params: { header: key() }, body: { password } })),
        onSuccess: (now) => {
            queries.setQueryData(slots.messages(), now);
            setPassword('');
            toast.success(now.secret ? 'Kept. It is not shown again.' : 'No password is kept.');
        },
        onError: (e) => toast.error(e.message),
    });
    const [said, setSaid] = useState('');
    const test = useMutation({
        mutationFn: () => unwrap(api.POST('/api/mail/test', { params: { header: key() } })),
        onSuccess: ({ to }) => setSaid(`✓ The mail server took a letter to ${to}.`),
        onError: (e) => setSaid(e.message),
    });
    return (
        <>
            <form
                className="grid gap-1 content-start"
                onSubmit={(e) => {
                    e.preventDefault();
                    keep.mutate();
                }}
            >
                <Field
                    label="Password there"
                    hint={state.data?.secret ? 'One is kept, and shown to nobody. Keep an empty one to take it away.' : 'None is kept.'}
                >
                    {(p) => (
                        <input
                            {...p}
                            type="password"
                            autoComplete="new-password"
                            value={password}
                            onChange={(e) => setPassword(e.target.value)}
                        />
                    )}
                </Field>
                <div>
                    <Button type="submit" disabled={keep.isPending}>
                        Keep the password
                    </Button>
                </div>
            </form>
            <div className="grid gap-2 content-start">
                <p className="text-muted">Whether all of this is right is shown by a letter to yourself.</p>
                <div className="flex flex-wrap gap-3 items-center">
                    <Button disabled={test.isPending} onClick={() => test.mutate()}>
                        Send me a test
                    </Button>
                    <Link to="/messages" className="underline underline-offset-4 min-h-[44px] inline-flex items-center">
                        Messages to owners
                    </Link>
                </div>
                {said && <p role="status">{said}</p>}
            </div>
        </>
    );
}
