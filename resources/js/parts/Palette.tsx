import { slots } from '@/lib/slots';
import { clsx } from 'clsx';
import { useQuery } from '@tanstack/react-query';
import { Command } from 'cmdk';
import { useDeferredValue, useState } from 'react';
import { useMatch, useNavigate } from 'react-router';
import { api, unwrap } from '@/api/client';
import { useMay, usePerson } from '@/lib/bench';
import { useTour } from '@/lib/tour';
import { STAGES } from './StageRail';
import { Sheet } from './Sheet';

const customerLine = (c: { name: string; phone: string }) => `Customer: ${c.name}${c.phone ? `, ${c.phone}` : ''}`;

/** Find anything, do anything, without taking the hands off the keys. */
export default function Palette({
    onClose,
    onDim,
    onKeys,
    onLeave,
}: {
    open: boolean;
    onClose: () => void;
    onDim: () => void;
    onKeys: () => void;
    onLeave: () => void;
}) {
    const navigate = useNavigate();
    const here = useMatch('/jobs/:job/*')?.params.job;
    const owner = useMay('people');
    const tour = useTour(usePerson().id);
    const [text, setText] = useState('');
    const [at, setAt] = useState('');
    const term = useDeferredValue(text.trim());
    const found = useQuery({
        queryKey: slots.search(term),
        queryFn: () => unwrap(api.GET('/api/search', { params: { query: { q: term } } })),
        enabled: term.length > 0,
    });
    const go = (to: string) => {
        onClose();
        void navigate(to);
    };
    const action = (name: string, run: () => void) => (
        <Command.Item
            key={name}
            value={name}
            onSelect={run}
            className={clsx(
                'px-3 py-2.5 rounded data-[selected=true]:bg-knot data-[selected=true]:outline-2',
                'data-[selected=true]:outline-bark cursor-pointer',
            )}
        >
            {name}
        </Command.Item>
    );
    const matches = (name: string) => name.toLowerCase().includes(term.toLowerCase());
    const actions: [string, () => void][] = [
        ['Take a pack in', () => go('/intake')],
        ['Take a batch in', () => go('/batches/new')],
        ['Batches', () => go('/batches')],
        ['Bench', () => go('/')],
        ['Import a job record', () => go('/import')],
        ['Instruments', () => go('/instruments')],
        ['Customers', () => go('/customers')],
        ['Settings of the shop: prices, limits, schools', () => go('/settings')],
        ['My keys: password, personal code, second factor, sessions', () => go('/me')],
        ...(owner
            ? [
                  ['People of the workshop', () => go('/people')] as [string, () => void],
                  ['Security log', () => go('/people?log')] as [string, () => void],
              ]
            : []),
        ['Packs in service', () => go('/packs?due=1')],
        ['Packs at a glance', () => go('/packs?glance=1')],
        ['Messages to owners', () => go('/messages')],
        ['Training: rounds on simulated packs', () => go('/training')],
        ['Cells: the drawer', () => go('/cells')],
        ['Dim or brighten the screen', () => (onClose(), onDim())],
        ['Walk through the screens', () => (onClose(), tour.go(0))],
        ['Show the keys', () => (onClose(), onKeys())],
        ['Sign out', () => (onClose(), onLeave())],
        ...(here ? [['This job: at the supply (bring up, balance, wake)', () => go(`/jobs/${here}/supply`)] as [string, () => void]] : []),
        ...(here ? [['This job: build (deal, budget, sheet, pins)', () => go(`/jobs/${here}/build`)] as [string, () => void]] : []),
        ...(here ? STAGES.map((s): [string, () => void] => [`This job: ${s.name}`, () => go(`/jobs/${here}/${s.stage}`)]) : []),
    ];
    const shown = actions.filter(([name]) => term === '' || matches(name));
    const values = [
        ...(found.data?.jobs.map((j) => `job-${j.id}`) ?? []),
        ...(found.data?.customers.map(customerLine) ?? []),
        ...(found.data?.pack_models.map((m) => `Take in: ${m.name}`) ?? []),
        ...shown.map(([name]) => name),
    ];
    // Enter does the first that is there, unless somebody went to another.
    const selected = values.includes(at) ? at : (values[0] ?? '');
    return (
        <Sheet title="Find" onClose={onClose} wide>
            <Command shouldFilter={false} label="Find" className="grid gap-3" value={selected} onValueChange={setAt}>
                <Command.Input
                    autoFocus
                    value={text}
                    onValueChange={setText}
                    placeholder="Job number, pack, customer, batch, or what you want to do"
                    aria-label="Find"
                />
                <Command.List className="max-h-[52vh] overflow-auto">
                    {found.data?.jobs.map((j) => (
                        <Command.Item
                            key={j.id}
                            value={`job-${j.id}`}
                            onSelect={() => go(`/jobs/${j.id}/${j.stage}`)}
                            className={clsx(
                                'px-3 py-2.5 rounded data-[selected=true]:bg-knot data-[selected=true]:outline-2',
                                'data-[selected=true]:outline-bark cursor-pointer',
                            )}
                        >
                            <b>{j.name}</b>{' '}
                            <span className="text-muted">
                                job {j.number}, {j.customer}. {j.next}
                            </span>
                        </Command.Item>
                    ))}
                    {found.data?.customers.map((c) => action(customerLine(c), () => go(`/customers/${c.id}`)))}
                    {found.data?.pack_models.map((m) => action(`Take in: ${m.name}`, () => go(`/intake?model=${m.id}`)))}
                    {shown.map(([name, run]) => action(name, run))}
                    {term !== '' && found.isFetched && <Command.Empty className="p-3 text-muted">Nothing is called that.</Command.Empty>}
                </Command.List>
            </Command>
        </Sheet>
    );
}
