import { slots } from '@/lib/slots';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, unwrap } from '@/api/client';
import type { components } from '@/api/schema';
import { when } from '@/lib/format';
import { Button } from '@/parts/basics';

type Entry = components['schemas']['SecurityEntry'];

/** What an entry says beside who and what: in words, never as code. */
export function detail(data: Record<string, unknown>): string {
    const say = (v: unknown): string =>
        v !== null && typeof v === 'object'
            ? Array.isArray(v)
                ? v.map(say).join(', ')
                : Object.entries(v)
                      .map(([k, x]) =>
                          x !== null && typeof x === 'object' && 'from' in x && 'to' in x
                              ? `${k} from ${say(x.from)} to ${say(x.to)}`
                              : `${k} ${say(x)}`,
                      )
                      .join(', ')
            : v === true
              ? 'yes'
              : v === false
                ? 'no'
                : v === null || v === ''
                  ? 'nothing'
                  : String(v);
    return Object.entries(data)
        .map(([k, v]) => `${k.replaceAll('_', ' ')} ${say(v)}`)
        .join(', ');
}

export function SecurityLog({ open = false }: { open?: boolean }) {
    const [shown, setShown] = useState(open);
    const log = useInfiniteQuery({
        queryKey: slots.securityLog(),
        initialPageParam: undefined as number | undefined,
        queryFn: ({ pageParam }) => unwrap(api.GET('/api/security-log', { params: { query: pageParam ? { before: pageParam } : {} } })),
        getNextPageParam: (last) => (last.more ? last.entries[last.entries.length - 1]?.id : undefined),
        enabled: shown,
    });
    const entries: Entry[] = log.data?.pages.flatMap((p) => p.entries) ?? [];
    return (
        <section className="sheet p-4 grid gap-3" aria-label="Security log">
            <div className="flex flex-wrap items-center gap-4">
                <h2 className="grow">Security log</h2>
                <Button onClick={() => setShown(!shown)} aria-expanded={shown}>
                    {shown ? 'Close the log' : 'Who got in, who did not, who was given what'}
                </Button>
            </div>
            {shown && (
                <>
                    <table className="text-[0.95rem]">
                        <thead>
                            <tr className="text-left">
                                <th scope="col">When</th>
                                <th scope="col">Who</th>
                                <th scope="col">What</th>
                                <th scope="col">From</th>
                            </tr>
                        </thead>
                        <tbody>
                            {entries.map((e) => (
                                <tr key={e.id} className="align-top border-t border-line">
                                    <td className="pr-4 whitespace-nowrap">{when(e.at)}</td>
                                    <td className="pr-4">{e.by ?? 'nobody known'}</td>
                                    <td className="pr-4">
                                        {e.words}
                                        {e.about && <b>: {e.about}</b>}
                                        {Object.keys(e.data).length > 0 && <span className="text-muted"> ({detail(e.data)})</span>}
                                    </td>
                                    <td className="digits">{e.address}</td>
                                </tr>
                            ))}
                        </tbody>
                    </table>
                    {log.hasNextPage && (
                        <div>
                            <Button onClick={() => void log.fetchNextPage()} disabled={log.isFetchingNextPage}>
                                Older
                            </Button>
                        </div>
                    )}
                </>
            )}
        </section>
    );
}
