import { slots } from '@/lib/slots';
import { clsx } from 'clsx';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useLocation } from 'react-router';
import { toast } from 'sonner';
import { api, ApiError, key, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { useMay } from '@/lib/bench';
import { Field } from '@/parts/basics';
import { QueryState } from '@/parts/QueryState';
import { Clash } from '@/parts/Clash';
import { Backup } from './Backup';
import { Mail } from './Mail';
import { Prices } from './Prices';
import { parse, shown } from './values';

type Setting = components['schemas']['Setting'];
type All = components['schemas']['Settings'];

/** The shop's own facts in one place: each says what it changes, and goes back to its default. */
export function Component() {
    const owner = useMay('settings');
    const { hash } = useLocation();
    const settings = useQuery({ queryKey: slots.settings(), queryFn: () => unwrap(api.GET('/api/settings')) });
    const loaded = settings.data !== undefined;
    useEffect(() => {
        if (loaded && hash !== '') document.getElementById(hash.slice(1))?.scrollIntoView({ block: 'center' });
    }, [hash, loaded]);
    if (!settings.data) return <QueryState of={settings} what="Looking what the shop has said ..." />;
    const all = settings.data;
    return (
        <div className="p-5 grid gap-5 max-w-6xl">
            <div className="flex flex-wrap items-baseline gap-4">
                <h1>Settings of {all.name}</h1>
                {!owner && <p className="text-muted">The owner sets these.</p>}
                {all.demo && <p className="text-muted">The demo workshop.</p>}
            </div>
            <nav aria-label="Parts of the settings" className="flex flex-wrap gap-2">
                {[...Object.entries(all.groups), ...(owner ? [['backup', 'Backup']] : []), ['prices', 'Price list']].map(([g, title]) => (
                    <a
                        key={g}
                        href={`#${g}`}
                        className={clsx(
                            'inline-flex items-center min-h-[44px] px-3 rounded border-[1.5px] border-muted',
                            'no-underline hover:bg-knot',
                        )}
                    >
                        {title}
                    </a>
                ))}
            </nav>
            {Object.entries(all.groups).map(([group, title]) => (
                <section key={group} id={group} aria-label={title} className="sheet p-4 grid gap-4 scroll-mt-4">
                    <h2>{title}</h2>
                    {group === 'limits' && (
                        <p className="text-muted">
                            The handbook's own limits stand unless the shop is stricter. None can be made more lenient.
                        </p>
                    )}
                    <div className="grid gap-x-6 gap-y-4 md:grid-cols-2">
                        {group === 'shop' && <Name all={all} owner={owner} />}
                        {all.settings
                            .filter((s) => s.group === group)
                            .map((s) => (
                                <One key={s.key} setting={s} all={all} owner={owner} />
                            ))}
                        {group === 'messages' && owner && <Mail />}
                    </div>
                </section>
            ))}
            {owner && <Backup />}
            <Prices owner={owner} currency={String(all.settings.find((s) => s.key === 'currency')?.value ?? 'EUR')} />
        </div>
    );
}

function useSave(all: All) {
    const queries = useQueryClient();
    return useMutation({
        mutationFn: async (body: { name?: string; values?: Record<string, unknown>; anyway?: boolean }) => {
            const { anyway, ...change } = body;
            const version = anyway
                ? (await unwrap(api.GET('/api/settings'))).version
                : (queries.getQueryData<All>(['settings'])?.version ?? all.version);
            return unwrap(api.PATCH('/api/settings', { params: { header: { ...key(), 'If-Match': version } }, body: change }));
        },
        onSuccess: (data) => {
            queries.setQueryData(slots.settings(), data);
            // Quotes and plans follow the shop.
            void queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== 'settings' });
            toast.success('Kept.');
        },
        onError: (e) => {
            if (!(e instanceof ApiError && (Object.keys(e.fields).length > 0 || e.code === 'clash'))) toast.error(e.message);
        },
    });
}

function Name({ all, owner }: { all: All; owner: boolean }) {
    const save = useSave(all);
    return (
        <div className="grid content-start">
            <Field label="Name of the workshop" hint="On reports and sheets.">
                {(p) => (
                    <input
                        {...p}
                        key={all.name}
                        disabled={!owner}
                        defaultValue={all.name}
                        onBlur={(e) => e.target.value.trim() !== '' && e.target.value !== all.name && save.mutate({ name: e.target.value })}
                    />
                )}
            </Field>
        </div>
    );
}

function One({ setting: s, all, owner }: { setting: Setting; all: All; owner: boolean }) {
    const save = useSave(all);
    const queries = useQueryClient();
    const [typed, setTyped] = useState(shown(s, s.value));
    const [wrong, setWrong] = useState<string | null>(null);
    useEffect(() => setTyped(shown(s, s.value)), [s]);
    const keep = (text: string) => {
        const value = parse(s, text);
        if (value === undefined) return setWrong('A number.');
        setWrong(null);
        if (value !== s.value) save.mutate({ values: { [s.key]: value } });
    };
    const error = wrong ?? (save.error instanceof ApiError ? save.error.fields[`values.${s.key}`] : undefined);
    const bounds = s.group === 'limits' ? ` The handbook's: ${shown(s, s.default)} ${s.unit}.` : '';
    return (
        <div id={s.key} className="grid gap-1 content-start scroll-mt-24">
            <Field
                label={
                    s.unit && s.kind !== 'money' ? `${s.title}, ${s.unit}` : s.title + (s.kind === 'money' && s.unit ? `, ${s.unit}` : '')
                }
                error={error}
                hint={s.changes + bounds}
            >
                {(p) =>
                    s.kind === 'choice' ? (
                        <select {...p} disabled={!owner || save.isPending} value={typed} onChange={(e) => keep(e.target.value)}>
                            {Object.entries(s.choices).map(([value, word]) => (
                                <option key={value} value={value}>
                                    {word}
                                </option>
                            ))}
                        </select>
                    ) : s.kind === 'switch' ? (
                        <select {...p} disabled={!owner || save.isPending} value={typed} onChange={(e) => keep(e.target.value)}>
                            <option value="no">no</option>
                            <option value="yes">yes</option>
                        </select>
                    ) : s.kind === 'lines' ? (
                        <textarea
                            {...p}
                            rows={3}
                            disabled={!owner}
                            className="digits"
                            value={typed}
                            onChange={(e) => setTyped(e.target.value)}
                            onBlur={() => keep(typed)}
                        />
                    ) : (
                        <input
                            {...p}
                            {...(s.kind === 'zone' ? { list: 'zones' } : {})}
                            type={s.kind === 'time' ? 'time' : 'text'}
                            inputMode={['money', 'decimal', 'percent', 'whole'].includes(s.kind) ? 'decimal' : undefined}
                            disabled={!owner}
                            value={typed}
                            onChange={(e) => setTyped(e.target.value)}
                            onBlur={() => keep(typed)}
                            onKeyDown={(e) => e.key === 'Enter' && keep(typed)}
                        />
                    )
                }
            </Field>
            {s.kind === 'zone' && (
                <datalist id="zones">
                    {Intl.supportedValuesOf('timeZone').map((z) => (
                        <option key={z} value={z} />
                    ))}
                </datalist>
            )}
            <p className="text-sm text-muted flex flex-wrap items-center gap-x-3">
                <span>Source: {s.source}.</span>
                {s.differs && owner && (
                    <button
                        type="button"
                        className="underline underline-offset-4 min-h-[32px]"
                        onClick={() => save.mutate({ values: { [s.key]: null } })}
                    >
                        Back to the default ({shown(s, s.default) || 'none'})
                    </button>
                )}
            </p>
            <Clash
                error={save.error}
                labels={{}}
                mine={{}}
                onMine={() => save.mutate({ values: { [s.key]: parse(s, typed) ?? null }, anyway: true })}
                onTheirs={() => {
                    save.reset();
                    void queries.invalidateQueries({ queryKey: slots.settings() });
                }}
            />
        </div>
    );
}
