import { slots } from '@/lib/slots';
import { useQuery } from '@tanstack/react-query';
import { api, unwrap } from '@/api/client';
import { Field } from './basics';

/** A new password of one's own. How long it must be is the server's to say. */
export function PasswordField({
    label,
    value,
    onChange,
    error,
}: {
    label: string;
    value: string;
    onChange: (value: string) => void;
    error?: string | undefined;
}) {
    const door = useQuery({ queryKey: slots.door(), queryFn: () => unwrap(api.GET('/api/door')), staleTime: 60_000 });
    const least = door.data ? `${door.data.password_min} characters or more: ` : '';
    return (
        <Field label={label} error={error} hint={`${least}three or four words that do not belong together`}>
            {(p) => (
                <input
                    {...p}
                    type="password"
                    required
                    autoComplete="new-password"
                    value={value}
                    onChange={(e) => onChange(e.target.value)}
                />
            )}
        </Field>
    );
}
