import { slots } from '@/lib/slots';
import { clsx } from 'clsx';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { actsAs, api, unwrap } from '@/api/client';
import { useOutboxNow, usePerson } from '@/lib/bench';
import { initials } from '@/lib/format';
import { fieldErrors } from '@/lib/job';
import { Button, Field } from './basics';
import { Sheet } from './Sheet';

/** Hands the bench to the next person: their name, their code. What the one before has not sent yet waits under their own name. */
export default function HandOver({ onClose }: { onClose: () => void }) {
    const person = usePerson();
    const box = useOutboxNow();
    const queries = useQueryClient();
    const navigate = useNavigate();
    const [next, setNext] = useState<{ id: number; name: string } | null>(null);
    const [code, setCode] = useState('');
    const people = useQuery({ queryKey: slots.colleagues(), queryFn: () => unwrap(api.GET('/api/colleagues')) });
    const hand = useMutation({
        mutationFn: (typed: string) => unwrap(api.POST('/api/session/hand-over', { body: { person_id: next!.id, code: typed } })),
        onSuccess: (now) => {
            onClose();
            actsAs(now.id);
            // Whoever looks at the session goes on looking; all else was the other person's.
            queries.removeQueries({ predicate: (q) => q.queryKey[0] !== 'session' });
            queries.setQueryData(slots.session(), now);
            toast.success(`${now.name} is at the bench.`);
        },
        onError: () => setCode(''),
    });
    const type = (typed: string) => {
        const digits = typed.replace(/\D/g, '').slice(0, person.limits.code_digits);
        setCode(digits);
        if (digits.length === person.limits.code_digits && !hand.isPending) hand.mutate(digits);
    };
    const errors = fieldErrors(hand.error);
    const waiting = box.waiting.length + box.writing;
    const go = (to: string) => {
        onClose();
        void navigate(to);
    };
    return (
        <Sheet title="Who is at the bench?" onClose={onClose}>
            <ul className="grid sm:grid-cols-2 gap-2">
                {people.data?.people.map((p) => (
                    <li key={p.id}>
                        <button
                            type="button"
                            disabled={p.id === person.id}
                            aria-pressed={next?.id === p.id}
                            onClick={() => {
                                setNext(p);
                                setCode('');
                                hand.reset();
                            }}
                            className={clsx(
                                'sheet w-full flex items-center gap-3 p-3 min-h-[64px] text-left',
                                next?.id === p.id ? 'outline-3 outline-bark' : 'hover:bg-knot',
                                p.id === person.id ? 'opacity-60' : '',
                            )}
                        >
                            <span
                                aria-hidden="true"
                                className="grid place-items-center w-10 h-10 rounded-full bg-bark text-on-bark font-bold"
                            >
                                {initials(p.name)}
                            </span>
                            <span className="leading-tight">
                                <b>{p.name}</b>
                                <span className="block text-muted text-sm">
                                    {p.role}
                                    {p.id === person.id ? ', here now' : p.has_code ? '' : ', no personal code yet'}
                                </span>
                            </span>
                        </button>
                    </li>
                ))}
            </ul>
            {next && (
                <Field
                    label={`Personal code of ${next.name}`}
                    error={errors['code'] ?? (hand.error ? hand.error.message : undefined)}
                    hint={`${person.limits.code_digits} digits; the last one hands over`}
                >
                    {(p) => (
                        <input
                            {...p}
                            autoFocus
                            type="password"
                            inputMode="numeric"
                            autoComplete="off"
                            className="digits text-2xl tracking-[0.4em]"
                            value={code}
                            readOnly={hand.isPending}
                            onChange={(e) => type(e.target.value)}
                        />
                    )}
                </Field>
            )}
            {waiting > 0 && (
                <p className="border-l-4 border-amber bg-knot rounded-r px-4 py-2">
                    {waiting} {waiting === 1 ? 'entry' : 'entries'} of {person.name} {waiting === 1 ? 'is' : 'are'} not sent yet. They stay
                    on this bench under that name and go when {person.name} is here again.
                </p>
            )}
            <div className="flex flex-wrap gap-2">
                <Button onClick={() => go('/me')}>My password, code and sessions</Button>
            </div>
        </Sheet>
    );
}
