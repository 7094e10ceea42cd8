import type { components } from '@/api/schema';
import { Basis } from './basics';

type Planned = NonNullable<components['schemas']['RunState']['planned']>;

const W = 600;
const LEFT = 8;
const SPAN = W - 2 * LEFT;

/** In words what the bar shows: how far it is, and whether it keeps up with its plan. */
export function keeping({ ah, to_ah, by_now_ah, behind_min }: Planned): string {
    const far = to_ah === null ? `${ah.toFixed(2)} Ah so far` : `${ah.toFixed(2)} of about ${to_ah.toFixed(2)} Ah`;
    const late = `${Math.abs(behind_min).toFixed(0)} min ${behind_min > 0 ? 'behind' : 'ahead'}`;
    const pace = Math.abs(behind_min) < 1 ? 'as planned' : `the plan had ${by_now_ah.toFixed(2)} Ah by now: ${late}`;
    return `${far}, ${pace}.`;
}

/** What has moved so far as a bar on what is to move, with a mark where the plan has it by now. */
export function RunAgainstPlan({ planned }: { planned: Planned }) {
    const words = keeping(planned);
    const whole = Math.max(planned.to_ah ?? 0, planned.by_now_ah, planned.ah, 1e-6);
    const x = (ah: number) => LEFT + (SPAN * ah) / whole;
    return (
        <figure className="grid gap-1" aria-label="Against its plan">
            <svg viewBox={`0 0 ${W} 34`} className="w-full h-auto" role="img" aria-label={words}>
                <rect x={LEFT} y={10} width={SPAN} height={14} fill="none" stroke="var(--muted)" />
                <rect x={LEFT} y={10} width={Math.max(0, x(planned.ah) - LEFT)} height={14} fill="var(--bark)" />
                <path d={`M${x(planned.by_now_ah)} 4v26`} stroke="var(--ember)" strokeWidth={3} />
            </svg>
            <figcaption>
                {words} <span className="text-muted text-sm">Full bar: what is to move; upright line: where the plan has it now.</span>{' '}
                <Basis of="derived" />
            </figcaption>
        </figure>
    );
}
