import { useEffect, useRef, useState } from 'react';
import { Navigate, NavLink, Outlet, useMatch, useNavigate, useParams } from 'react-router';
import { useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { api, key, unwrap } from '@/api/client';
import { count } from '@/lib/format';
import { slots } from '@/lib/slots';
import { Button, Field } from '@/parts/basics';
import { QueryState } from '@/parts/QueryState';
import { Sheet } from '@/parts/Sheet';
import { number } from '@/lib/number';
import { type Act, clock, LEVELS, type Round as RoundOf, useActs, useRound } from './training';

const STAGES = [
    ['intake', 'Intake'],
    ['probe', 'Probe'],
    ['verdict', 'Verdict'],
    ['plan', 'Plan'],
    ['carry-out', 'Work'],
    ['debrief', 'Debrief'],
] as const;

/** A stage that is not open now, and why, for whoever hears the page. */
function shut(stage: string, round: RoundOf): string | null {
    if (stage === 'debrief') return round.over ? null : 'once it is over';
    if (stage === 'carry-out') return round.work ? null : 'once you have answered';
    return (stage === 'verdict' || stage === 'plan') && round.work && !round.over ? 'your answer is given' : null;
}

export interface InRound {
    round: RoundOf;
    act: (a: Act) => Promise<RoundOf | null>;
    doing: number;
}

/** What is the same on every screen of a round: what pack it is, where one stands, the clock of the bench. */
export function Component() {
    const id = useParams()['round']!;
    return <Round key={id} id={id} />;
}

function Round({ id }: { id: string }) {
    const query = useRound(id);
    const { act, doing } = useActs(id);
    const navigate = useNavigate();
    const here = useMatch('/training/:round/:stage')?.params.stage;
    const round = query.data;
    // An unsafe act ends it there and then: whoever did it is told at once.
    const was = useRef<boolean | null>(null);
    useEffect(() => {
        if (!round) return;
        if (was.current === false && round.over) void navigate(`/training/${id}/debrief`);
        was.current = round.over !== null;
    }, [round, id, navigate]);
    if (!round) return <QueryState of={query} what="Fetching the round ..." />;
    const first = round.over ? 'debrief' : round.work ? 'carry-out' : 'intake';
    if (!here || shut(here, round)) return <Navigate to={`/training/${id}/${first}`} replace />;
    const pack = round.brief.pack;
    const level = LEVELS.find((l) => l.level === round.level);
    return (
        <>
            <div className="px-4 flex items-baseline gap-x-3 flex-wrap min-h-[34px]">
                <h1 className="!text-[1.25rem]">
                    {pack.name}{' '}
                    <span className="font-normal text-muted text-base">
                        training round, level {round.level}
                        {level && ` (${level.what})`}
                        {round.case !== null && `, case ${round.case} of this shop`}
                    </span>
                </h1>
                <p className="text-muted truncate min-w-0">
                    {count(pack.series, 'group')} of {pack.parallel}, {pack.chemistry}, {round.full_v.toFixed(1)} V full.
                </p>
            </div>
            <div className="no-print flex md:flex-wrap items-center border-b border-line max-md:overflow-x-auto">
                <nav aria-label="Stages of the round" className="grow">
                    <ol className="flex md:flex-wrap">
                        {STAGES.map(([stage, name]) => (
                            <li key={stage} className="grow">
                                {shut(stage, round) ? (
                                    <span className="flex items-center justify-center min-h-[44px] px-2 text-muted whitespace-nowrap">
                                        {name} <span className="sr-only">, {shut(stage, round)}</span>
                                    </span>
                                ) : (
                                    <NavLink
                                        to={`/training/${id}/${stage}`}
                                        className={({ isActive }) =>
                                            [
                                                'flex items-center justify-center min-h-[44px] px-2 no-underline',
                                                'border-b-4 whitespace-nowrap',
                                                isActive ? 'border-drill font-bold bg-knot' : 'border-transparent hover:bg-knot',
                                            ].join(' ')
                                        }
                                    >
                                        {name}
                                    </NavLink>
                                )}
                            </li>
                        ))}
                    </ol>
                </nav>
                <Clock round={round} act={act} doing={doing} />
            </div>
            <Outlet context={{ round, act, doing } satisfies InRound} />
        </>
    );
}

const WAITS = [
    ['10 minutes', 10 / 60],
    ['an hour', 1],
    ['over night', 12],
    ['3 days', 72],
    ['a week', 168],
] as const;

/** The clock of the bench, and skipping what one would only wait for. */
function Clock({ round, act, doing }: { round: RoundOf; act: InRound['act']; doing: number }) {
    const [waiting, setWaiting] = useState(false);
    const [leaving, setLeaving] = useState(false);
    const [own, setOwn] = useState('');
    const queries = useQueryClient();
    const h = number(own);
    const may = h > 0 && h <= round.most_wait_h;
    const wait = (hours: number) => {
        setWaiting(false);
        void act({ do: 'wait', hours: Number(hours.toFixed(4)) });
    };
    const leave = () => {
        setLeaving(false);
        unwrap(
            api.POST('/api/training/rounds/{trainingRound}/leave', { params: { path: { trainingRound: round.id }, header: key() } }),
        ).then(
            (r) => {
                queries.setQueryData(slots.training('round', round.id), r);
                void queries.invalidateQueries({ queryKey: slots.training(), exact: true });
            },
            (e: Error) => toast.error(e.message),
        );
    };
    return (
        <div className="flex items-center gap-1 pl-3 pr-1 whitespace-nowrap">
            <p>
                <span className="text-muted">Clock</span>{' '}
                <b className="digits" data-testid="clock">
                    {clock(round.seconds)}
                </b>
                {doing > 0 && <span className="sr-only"> one moment</span>}
            </p>
            {!round.over && (
                <>
                    <Button look="quiet" className="!px-2" onClick={() => setWaiting(true)}>
                        Let time pass
                    </Button>
                    {!round.work && (
                        <Button look="quiet" className="!px-2" onClick={() => setLeaving(true)}>
                            Give up
                        </Button>
                    )}
                </>
            )}
            {waiting && (
                <Sheet title="Let time pass" onClose={() => setWaiting(false)}>
                    <p>The pack rests, relaxes, leaks: all as it would. You wait for none of it.</p>
                    <div className="flex flex-wrap gap-3">
                        {WAITS.map(([name, hours]) => (
                            <Button key={name} onClick={() => wait(hours)}>
                                {name}
                            </Button>
                        ))}
                    </div>
                    <form
                        className="flex gap-3 items-end"
                        onSubmit={(e) => {
                            e.preventDefault();
                            if (may) wait(h);
                        }}
                    >
                        <Field label={`or hours, at most ${round.most_wait_h}`}>
                            {(p) => (
                                <input {...p} className="digits" inputMode="decimal" value={own} onChange={(e) => setOwn(e.target.value)} />
                            )}
                        </Field>
                        <Button type="submit" disabled={!may}>
                            Skip ahead
                        </Button>
                    </form>
                </Sheet>
            )}
            {leaving && (
                <Sheet title="Give this round up?" onClose={() => setLeaving(false)}>
                    <p>You are shown what it was. It counts as one that you missed, and comes back sooner.</p>
                    <div>
                        <Button look="stop" onClick={leave}>
                            Give it up and show me
                        </Button>
                    </div>
                </Sheet>
            )}
        </div>
    );
}
