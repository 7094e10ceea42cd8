import type { components } from '@/api/schema';
import { when } from '@/lib/format';
import { Button } from '@/parts/basics';

type Session = components['schemas']['Session'];

/** What a browser says of itself, shortened to what tells two of them apart. */
export function device(agent: string): string {
    const system = (/Android|iPad|iPhone/.exec(agent) ?? /Windows|Mac OS|Linux/.exec(agent))?.[0] ?? 'a device';
    return agent === ''
        ? 'a device'
        : system === 'Mac OS'
          ? 'a desk machine'
          : /Android|iPad|iPhone/.test(system)
            ? 'a tablet or telephone'
            : `${system} machine`;
}

export function SessionList({ sessions, onEnd }: { sessions: Session[]; onEnd?: (id: string) => void }) {
    if (sessions.length === 0) return <p className="text-muted">No open session.</p>;
    return (
        <ul className="grid gap-1">
            {sessions.map((s) => (
                <li key={s.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line py-1">
                    <span className="grow">
                        {device(s.agent)} at {s.address || 'an unknown address'}, by {s.how === 'code' ? 'personal code' : 'password'},
                        since {when(s.started_at)}
                        {s.this ? <b>, this one</b> : <span className="text-muted">, last used {when(s.seen_at)}</span>}
                    </span>
                    {!s.this && onEnd && <Button onClick={() => onEnd(s.id)}>End it</Button>}
                </li>
            ))}
        </ul>
    );
}
