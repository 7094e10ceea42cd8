import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { useNavigate } from 'react-router';
import { api, unwrap } from '@/api/client';
import { usePerson } from '@/lib/bench';
import { slots } from '@/lib/slots';
import { STOPS, useTour } from '@/lib/tour';
import { Button } from './basics';

/** The walk through the screens: a strip at the foot of each, that says what is seen there and leads on. */
export default function Tour() {
    const { step, go } = useTour(usePerson().id);
    const navigate = useNavigate();
    const jobs = useQuery({ queryKey: slots.bench(), queryFn: () => unwrap(api.GET('/api/bench')), enabled: step !== null }).data?.jobs;
    const to = step === null || !jobs ? undefined : STOPS[step]!.to(jobs);
    // Led there once a stop: whoever looks around from it is not pulled back.
    const led = useRef<number | null>(null);
    useEffect(() => {
        if (to === undefined || led.current === step) return;
        led.current = step;
        if (to !== null) void navigate(to);
    }, [to, step, navigate]);
    if (step === null) return null;
    const stop = STOPS[step]!;
    const last = step === STOPS.length - 1;
    return (
        <aside
            aria-label="Walk through"
            className="no-print sticky bottom-0 z-10 bg-panel border-t-2 border-water px-4 py-3 flex flex-wrap gap-x-6 gap-y-2 items-center"
        >
            <p className="grow basis-[24rem] max-w-[80ch]" role="status">
                <span className="text-muted">
                    {step + 1} of {STOPS.length}
                </span>{' '}
                <b>{stop.title}.</b> {stop.text}
                {to === null && ' No pack on this bench is so far.'}
            </p>
            <span className="flex gap-3">
                {step > 0 && <Button onClick={() => go(step - 1)}>Back</Button>}
                <Button look="main" onClick={() => go(last ? 'done' : step + 1)}>
                    {last ? 'Done' : 'Next'}
                </Button>
                {!last && (
                    <Button look="quiet" onClick={() => go('done')}>
                        Leave the walk
                    </Button>
                )}
            </span>
        </aside>
    );
}
