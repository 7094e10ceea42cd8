import { clsx } from 'clsx';
import { useSearchParams } from 'react-router';

/** Views of one screen, named in the address so that each can be bookmarked. */
export function useTab<T extends string>(tabs: readonly (readonly [T, string])[]): T {
    const [params] = useSearchParams();
    return tabs.find(([t]) => t === params.get('do'))?.[0] ?? tabs[0]![0];
}

export function Tabs<T extends string>({ label, tabs, at }: { label: string; tabs: readonly (readonly [T, string])[]; at: T }) {
    const [, setParams] = useSearchParams();
    return (
        <nav aria-label={label} className="no-print flex flex-wrap gap-2">
            {tabs.map(([t, name]) => (
                <button
                    key={t}
                    type="button"
                    aria-current={t === at ? 'page' : undefined}
                    className={clsx(
                        'min-h-[44px] px-4 border-b-4',
                        t === at ? 'border-bark font-bold bg-knot' : 'border-transparent hover:bg-knot',
                    )}
                    onClick={() => setParams({ do: t }, { replace: true })}
                >
                    {name}
                </button>
            ))}
        </nav>
    );
}
