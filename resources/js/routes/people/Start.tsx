import { slots } from '@/lib/slots';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useController } from 'react-hook-form';
import { Link, useNavigate } from 'react-router';
import { z } from 'zod';
import { api, unwrap } from '@/api/client';
import { useBenchForm, words } from '@/lib/form';
import { fieldErrors } from '@/lib/job';
import { Button } from '@/parts/basics';
import { FormText } from '@/parts/form';
import { PasswordField } from '@/parts/PasswordField';
import { Door, secretOfLink } from './door';

const START = z.object({
    setup_code: words('the code that the server prints.'),
    workshop: words(),
    name: words(),
    email: words('an address that you read.'),
    password: z.string().min(1, 'three or four words.'),
});

/** The first page of a new server: the workshop and its owner. */
export function Component() {
    const form = useBenchForm(START, { setup_code: secretOfLink(), workshop: '', name: '', email: '', password: '' });
    const at = { control: form.control };
    const queries = useQueryClient();
    const navigate = useNavigate();
    const start = useMutation({
        mutationFn: (body: z.output<typeof START>) => unwrap(api.POST('/api/start', { body })),
        onSuccess: (entered) => {
            queries.clear();
            queries.setQueryData(slots.session(), entered.signed_in);
            void navigate('/settings', { replace: true });
        },
        onError: (e) => void form.refused(e),
    });
    const { field: password, fieldState } = useController({ ...at, name: 'password' });
    const linked = form.formState.defaultValues?.setup_code !== '';
    return (
        <Door>
            <form className="grid gap-4 w-full max-w-md" noValidate onSubmit={form.handleSubmit((body) => start.mutate(body))}>
                <div>
                    <h1 className="text-3xl">Open your workshop</h1>
                    <p className="text-muted">You become its owner: prices, people and limits are yours to set.</p>
                </div>
                <FormText
                    {...at}
                    name="setup_code"
                    label="Set-up code"
                    hint="Printed by ./heartwood up, or by ./heartwood setup-code"
                    why="Whoever can read what this server prints may become its owner, and nobody else on the network."
                    autoFocus={!linked}
                    autoComplete="off"
                />
                <FormText {...at} name="workshop" label="Name of the workshop" autoFocus={linked} autoComplete="organization" />
                <FormText {...at} name="name" label="Your name" autoComplete="name" />
                <FormText {...at} name="email" label="Your e-mail" hint="You sign in with it" type="email" autoComplete="username" />
                <PasswordField
                    label="Your password"
                    error={fieldState.error?.message}
                    value={password.value}
                    onChange={password.onChange}
                />
                {start.error && Object.keys(fieldErrors(start.error)).length === 0 && <p role="alert">{start.error.message}</p>}
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
