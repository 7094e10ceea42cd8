import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError, api, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { when } from '@/lib/format';
import { number } from '@/lib/number';
import { slots } from '@/lib/slots';
import { useDraft } from '@/lib/useDraft';
import { Button, Cautions, Field, Go } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import { Sheet } from '@/parts/Sheet';

type Fleet = components['schemas']['Fleet'];
export type ToppingRow = Fleet['toppings'][number];

/** A write of the fleet: what it answers is the fleet as it is now. */
function useFleetWrite<V>(id: number, write: (v: V) => Promise<Fleet>, done: () => void) {
    const queries = useQueryClient();
    return useMutation({
        mutationFn: write,
        onSuccess: () => {
            void queries.invalidateQueries({ queryKey: slots.fleet(id) });
            done();
        },
        onError: (e) => {
            if (!(e instanceof ApiError && Object.keys(e.fields).length > 0)) toast.error(e.message);
        },
    });
}
const fieldsOf = (error: unknown): Record<string, string> => (error instanceof ApiError ? error.fields : {});

/** Before the clip goes on: what is measured, in the order in which it is measured. */
export function BeginTopping({
    customer,
    of,
    steps,
    onClose,
}: {
    customer: number;
    of: { pack: string; packId: number; group: number; supply: string };
    steps: string[];
    onClose: () => void;
}) {
    const [typed, setTyped, clear] = useDraft(`topping.${of.packId}.${of.group}`, {
        pack_a: '',
        group_v: '',
        ambient_c: '',
        supply_a: of.supply,
        second: '',
    });
    const begin = useFleetWrite(
        customer,
        () =>
            unwrap(
                api.POST('/api/customers/{customer}/toppings', {
                    params: { path: { customer }, header: key() },
                    body: {
                        pack: of.packId,
                        group: of.group,
                        pack_a: number(typed.pack_a),
                        group_v: number(typed.group_v),
                        ambient_c: number(typed.ambient_c),
                        supply_a: typed.supply_a.trim() === '' ? null : number(typed.supply_a),
                        second: typed.second,
                    },
                }),
            ),
        () => {
            clear();
            onClose();
            toast.success('The clip may go on. Stay with it.');
        },
    );
    const errors = fieldsOf(begin.error);
    const at = (name: keyof typeof typed) => ({
        value: typed[name],
        onChange: (v: string) => setTyped((d) => ({ ...d, [name]: v })),
        error: errors[name],
    });
    return (
        <Sheet title={`${of.pack}, group ${of.group}: before the clip goes on`} onClose={onClose}>
            <Cautions lines={[...steps.slice(0, 2), 'A supply conducts through a reversed clip even when it is off: meter first.']} />
            <form
                noValidate
                className="grid gap-3 md:grid-cols-2"
                onSubmit={(e) => {
                    e.preventDefault();
                    begin.mutate(undefined);
                }}
            >
                <NumberField
                    label="Through its terminals, all off"
                    unit="A"
                    {...at('pack_a')}
                    why="Zero current is proved before a clip goes on."
                />
                <NumberField
                    label={`Group ${of.group} at the clips, by meter`}
                    unit="V"
                    {...at('group_v')}
                    why="Red lead on its plus: its sign says the polarity, its volts that it is the group that was meant."
                />
                <NumberField label="Where it stands it is" unit="degC" {...at('ambient_c')} />
                <NumberField
                    label="The supply gives at the most"
                    unit="A"
                    {...at('supply_a')}
                    hint="a twentieth of what it holds, if left"
                />
                <Field label="Who stands by, over 60 V" hint="with gloves and insulated tools on" error={errors['second']}>
                    {(p) => <input {...p} value={typed.second} onChange={(e) => setTyped((d) => ({ ...d, second: e.target.value }))} />}
                </Field>
                {errors['group'] && <p role="alert">{errors['group']}</p>}
                <div className="self-end">
                    <Button look="main" type="submit" disabled={begin.isPending}>
                        Begin
                    </Button>
                </div>
            </form>
        </Sheet>
    );
}

/** Groups that are topped up or were: what each wants next. */
export function Toppings({ customer, rows, packs }: { customer: number; rows: ToppingRow[]; packs: number }) {
    return (
        <section aria-label="What was topped up" className="grid gap-2">
            <h3>What was topped up</h3>
            <ul className="grid gap-2">
                {rows.map((t) => (
                    <li key={t.id} className="border-t border-line pt-2 grid gap-1">
                        <p>
                            <b>
                                {t.pack}, group {t.group}
                            </b>
                            , begun {when(t.begun_at)} by {t.by}
                            {!t.ended_at && t.about_until && `, about until ${when(t.about_until)}`}
                        </p>
                        {t.ended && <p>{t.ended}</p>}
                        {t.helped && (
                            <p>
                                <b>{t.helped.even ? '✓' : '…'}</b> {t.helped.text}
                            </p>
                        )}
                        {t.joined && t.joined_at && (
                            <p>
                                Back beside its siblings, {when(t.joined_at)}: {t.joined}
                            </p>
                        )}
                        <Next customer={customer} t={t} packs={packs} />
                    </li>
                ))}
            </ul>
        </section>
    );
}

function Next({ customer, t, packs }: { customer: number; t: ToppingRow; packs: number }) {
    const [a, setA] = useState('');
    const [b, setB] = useState('');
    const [n, setN] = useState(String(Math.max(1, packs - 1)));
    const params = { path: { topping: t.id } };
    const end = useFleetWrite(
        customer,
        () =>
            unwrap(
                api.POST('/api/toppings/{topping}/end', {
                    params: { ...params, header: key() },
                    body: { group_v: number(a), amps: number(b) },
                }),
            ),
        () => {
            setA('');
            setB('');
        },
    );
    const join = useFleetWrite(
        customer,
        () =>
            unwrap(
                api.POST('/api/toppings/{topping}/join', {
                    params: { ...params, header: key() },
                    body: { pack_v: number(a), siblings_v: number(b), siblings: number(n) },
                }),
            ),
        () => {
            setA('');
            setB('');
        },
    );
    const form = 'flex flex-wrap gap-3 items-end [&>div]:w-48';
    if (!t.ended_at) {
        const errors = fieldsOf(end.error);
        const { full_v, supply_a, stop_from_a, stop_to_a } = t.plan;
        return (
            <form
                noValidate
                aria-label={`End of ${t.pack}, group ${t.group}`}
                className="grid gap-2"
                onSubmit={(e) => {
                    e.preventDefault();
                    end.mutate(undefined);
                }}
            >
                <p>
                    The supply stands at {full_v.toFixed(3)} V and gives {supply_a.toFixed(2)} A at the most. Stop when it has fallen{' '}
                    {stop_from_a !== null && stop_to_a !== null
                        ? `to between ${stop_from_a.toFixed(2)} and ${stop_to_a.toFixed(2)} A`
                        : 'to a twentieth of what the group holds'}
                    ; at once when it grows warm.
                </p>
                <div className={form}>
                    <div>
                        <NumberField label="Group at the end" unit="V" value={a} onChange={setA} error={errors['group_v']} />
                    </div>
                    <div>
                        <NumberField label="Supply at the end" unit="A" value={b} onChange={setB} error={errors['amps']} />
                    </div>
                    <Button look="main" type="submit" disabled={end.isPending}>
                        The clip is off
                    </Button>
                </div>
            </form>
        );
    }
    if (t.way === 'direct') return null;
    const errors = fieldsOf(join.error);
    return (
        <>
            {!t.helped && (
                <p className="flex flex-wrap gap-3 items-center">
                    Let the board finish at the top, let it rest, then:{' '}
                    <Go look="main" to={`/customers/${customer}/wall`}>
                        Read every group again
                    </Go>
                </p>
            )}
            <form
                noValidate
                aria-label={`${t.pack} back beside its siblings`}
                className={form}
                onSubmit={(e) => {
                    e.preventDefault();
                    join.mutate(undefined);
                }}
            >
                <div>
                    <NumberField label="The pack now" unit="V" value={a} onChange={setA} error={errors['pack_v']} />
                </div>
                <div>
                    <NumberField label="Its siblings now" unit="V" value={b} onChange={setB} error={errors['siblings_v']} />
                </div>
                <div>
                    <NumberField label="So many stand in parallel" whole least={1} value={n} onChange={setN} error={errors['siblings']} />
                </div>
                <Button type="submit" disabled={join.isPending}>
                    May it go back?
                </Button>
            </form>
        </>
    );
}
