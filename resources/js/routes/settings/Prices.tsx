import { slots } from '@/lib/slots';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useEffect, useState } from 'react';
import { toast } from 'sonner';
import { api, ApiError, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { money } from '@/lib/format';
import { Button } from '@/parts/basics';
import { Clash } from '@/parts/Clash';
import { CellModel } from './CellModels';
import { parse, shown } from './values';

type Priced = components['schemas']['Priced'];
type PricedCell = components['schemas']['PricedCell'];

const MONEY = { kind: 'money', default: null } as const;

/** What a cell costs the shop, and what a new pack costs the customer, model by model. */
export function Prices({ owner, currency }: { owner: boolean; currency: string }) {
    const prices = useQuery({ queryKey: slots.prices(), queryFn: () => unwrap(api.GET('/api/prices')) });
    // null: a new one; undefined: none is being described.
    const [model, setModel] = useState<PricedCell | null | undefined>(undefined);
    return (
        <section id="prices" aria-label="Price list" className="sheet p-4 grid gap-4 scroll-mt-4">
            <div className="flex flex-wrap items-center justify-between gap-3">
                <h2>Price list</h2>
                {owner && <Button onClick={() => setModel(null)}>Add a cell model</Button>}
            </div>
            {model !== undefined && <CellModel model={model} onClose={() => setModel(undefined)} />}
            <div className="grid gap-6 lg:grid-cols-2 items-start">
                <List
                    title="Cells"
                    hint="What one costs before the margin."
                    kind="cells"
                    rows={prices.data?.cells ?? []}
                    owner={owner}
                    currency={currency}
                    more={(id) =>
                        owner && (
                            <button
                                type="button"
                                className="underline min-h-[44px] px-2"
                                aria-label={`Describe ${prices.data?.cells.find((c) => c.id === id)?.name}`}
                                onClick={() => setModel(prices.data?.cells.find((c) => c.id === id) ?? null)}
                            >
                                describe
                            </button>
                        )
                    }
                />
                <List
                    title="Pack models"
                    hint="What a new one costs the customer; empty: worked out from its Wh."
                    kind="packs"
                    rows={prices.data?.packs ?? []}
                    owner={owner}
                    currency={currency}
                />
            </div>
        </section>
    );
}

function List({
    title,
    hint,
    kind,
    rows,
    owner,
    currency,
    more,
}: {
    title: string;
    hint: string;
    kind: 'cells' | 'packs';
    rows: Priced[];
    owner: boolean;
    currency: string;
    more?: (id: number) => ReactNode;
}) {
    return (
        <div className="grid gap-2">
            <h3>{title}</h3>
            <p className="text-muted">{hint}</p>
            {rows.length === 0 && <p className="text-muted">None yet: a model comes in with the first pack or cell of its kind.</p>}
            <ul className="grid gap-1">
                {rows.map((r) => (
                    <Row key={r.id} row={r} kind={kind} owner={owner} currency={currency} more={more?.(r.id)} />
                ))}
            </ul>
        </div>
    );
}

function Row({
    row,
    kind,
    owner,
    currency,
    more,
}: {
    row: Priced;
    kind: 'cells' | 'packs';
    owner: boolean;
    currency: string;
    more?: ReactNode;
}) {
    const queries = useQueryClient();
    const [typed, setTyped] = useState(shown(MONEY, row.price_cents));
    const [wrong, setWrong] = useState(false);
    useEffect(() => setTyped(shown(MONEY, row.price_cents)), [row]);
    const save = useMutation({
        mutationFn: async ({ cents, anyway }: { cents: number | null; anyway?: boolean }) => {
            const version = anyway ? (await unwrap(api.GET('/api/prices')))[kind].find((r) => r.id === row.id)?.version : row.version;
            const header = { ...key(), 'If-Match': version ?? row.version };
            return unwrap(
                kind === 'cells'
                    ? api.PATCH('/api/prices/cells/{cellModel}', {
                          params: { path: { cellModel: row.id }, header },
                          body: { price_cents: cents },
                      })
                    : api.PATCH('/api/prices/packs/{packModel}', {
                          params: { path: { packModel: row.id }, header },
                          body: { price_cents: cents },
                      }),
            );
        },
        onSuccess: (data) => {
            queries.setQueryData(slots.prices(), data);
            void queries.invalidateQueries({ predicate: (q) => q.queryKey[0] === 'job' });
            toast.success(`${row.name}: kept.`);
        },
        onError: (e) => {
            if (!(e instanceof ApiError && e.code === 'clash')) toast.error(e.message);
        },
    });
    const keep = () => {
        const cents = parse(MONEY, typed);
        const bad = typeof cents === 'undefined' || (cents === null && kind === 'cells');
        setWrong(bad);
        if (!bad && cents !== row.price_cents) save.mutate({ cents: cents as number | null });
    };
    return (
        <li className="grid gap-1">
            <div className="flex flex-wrap items-center justify-end gap-x-2">
                <label className="flex grow items-center gap-3">
                    <span className="grow">
                        <b>{row.name}</b> <span className="text-muted">{row.about}</span>
                    </span>
                    <input
                        className="digits w-28 text-right"
                        aria-label={`Price of ${row.name}, ${currency}`}
                        aria-invalid={wrong || undefined}
                        inputMode="decimal"
                        disabled={!owner}
                        value={typed}
                        onChange={(e) => setTyped(e.target.value)}
                        onBlur={keep}
                        onKeyDown={(e) => e.key === 'Enter' && keep()}
                    />
                    <span className="text-muted w-10">{currency}</span>
                </label>
                {more}
            </div>
            {wrong && <p className="text-ember font-bold text-sm">Mend this: an amount such as 4.80.</p>}
            <Clash
                error={save.error}
                labels={{ price_cents: 'Price' }}
                mine={{ price_cents: save.variables?.cents }}
                onMine={() => save.mutate({ cents: save.variables?.cents ?? null, anyway: true })}
                onTheirs={() => {
                    save.reset();
                    void queries.invalidateQueries({ queryKey: slots.prices() });
                }}
            />
            {save.error instanceof ApiError && save.error.code === 'clash' && typeof save.error.now?.['price_cents'] === 'number' && (
                <p className="text-muted text-sm">Stored now: {money(save.error.now['price_cents'], currency)}</p>
            )}
        </li>
    );
}
