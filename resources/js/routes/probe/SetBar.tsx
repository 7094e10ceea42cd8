import { memo } from 'react';
import type { Job } from '@/api/client';
import type { Order } from '@/lib/order';
import { when } from '@/lib/format';
import { Button, Field } from '@/parts/basics';
import { NumberField } from '@/parts/NumberField';
import { type Meter, METERS } from './set';

export interface SetChoice {
    condition: 'rest' | 'relaxing' | 'charge' | 'discharge';
    current: string;
    rested: string;
    room: string;
    plugOut: boolean;
}

const ORDERS: Record<Order, string> = { taps: 'tap by tap from B-', across: 'across each group', coarse: 'coarse first: halves, quarters' };

/** Under what condition, with which meter, in what order; chosen once and kept. */
export const SetBar = memo(function SetBar(props: {
    job: Job;
    setId: string | null;
    choose: (id: string) => void;
    newSet: () => void;
    condition: string;
    choice: SetChoice;
    setChoice: (c: SetChoice) => void;
    started: boolean;
    meter: Meter;
    setMeter: (m: Meter) => void;
    order: Order;
    setOrder: (o: Order) => void;
}) {
    const { job, choice, setChoice, meter } = props;
    const sets = job.measurements.filter((m) => m.revision === job.revision && m.readings.length > 0);
    return (
        <div className="grid gap-3">
            {props.started ? (
                <div className="flex items-center gap-3 flex-wrap">
                    <p>
                        This set: <b>{props.condition}</b>
                    </p>
                    <Button onClick={props.newSet}>New set</Button>
                </div>
            ) : (
                <div className="grid gap-3 grid-cols-2">
                    <Field label="Condition">
                        {(p) => (
                            <select
                                {...p}
                                value={choice.condition}
                                onChange={(e) => setChoice({ ...choice, condition: e.target.value as SetChoice['condition'] })}
                            >
                                <option value="rest">at rest</option>
                                <option value="discharge">under load</option>
                                <option value="charge">on charge</option>
                                <option value="relaxing">relaxing</option>
                            </select>
                        )}
                    </Field>
                    {choice.condition === 'rest' ? (
                        <NumberField
                            label="Rested"
                            unit="min"
                            least={0}
                            value={choice.rested}
                            onChange={(rested) => setChoice({ ...choice, rested })}
                            why="Volts settle for hours after a current. A set that rested a few minutes is believed less."
                        />
                    ) : (
                        <NumberField
                            label="Current"
                            unit="A"
                            value={choice.current}
                            onChange={(current) => setChoice({ ...choice, current })}
                        />
                    )}
                    <NumberField
                        label="Room"
                        unit="degC"
                        value={choice.room}
                        onChange={(room) => setChoice({ ...choice, room })}
                        why="Resistance rises in the cold, leaks in the heat: what is found is held against what is usual at this warmth."
                    />
                    {(choice.condition === 'rest' || choice.condition === 'relaxing') && (
                        <label className="flex items-center gap-2 self-end min-h-[44px]">
                            <input
                                type="checkbox"
                                checked={choice.plugOut}
                                onChange={(e) => setChoice({ ...choice, plugOut: e.target.checked })}
                            />
                            sense plug out
                        </label>
                    )}
                </div>
            )}
            {sets.length > 1 && (
                <Field label="Look at another set">
                    {(p) => (
                        <select {...p} value={props.setId ?? ''} onChange={(e) => e.target.value && props.choose(e.target.value)}>
                            <option value="">choose</option>
                            {sets.map((m) => (
                                <option key={m.id} value={m.id}>
                                    {m.condition}, {m.readings.length} readings, {when(m.at)}
                                </option>
                            ))}
                        </select>
                    )}
                </Field>
            )}
            <Field label="Order" hint={props.order === 'coarse' ? job.probe_plan : undefined}>
                {(p) => (
                    <select {...p} value={props.order} onChange={(e) => props.setOrder(e.target.value as Order)}>
                        {Object.entries(ORDERS).map(([value, text]) => (
                            <option key={value} value={value}>
                                {text}
                            </option>
                        ))}
                    </select>
                )}
            </Field>
            <Field label="Meter" hint={`${meter.percent} % of reading + ${meter.counts} counts of ${meter.resolution_v * 1000} mV`}>
                {(p) => (
                    <select
                        {...p}
                        value={meter.id}
                        onChange={(e) => props.setMeter(METERS.find((m) => m.id === e.target.value) ?? METERS[0]!)}
                    >
                        {METERS.map((m) => (
                            <option key={m.id}>{m.id}</option>
                        ))}
                    </select>
                )}
            </Field>
        </div>
    );
});
