import { ApiError } from '@/api/client';
import { Button } from './basics';

/** Two edited the same at once: both sides, and the choice. */
export function Clash({
    error,
    labels,
    mine,
    onMine,
    onTheirs,
}: {
    error: unknown;
    labels: Record<string, string>;
    mine: Record<string, unknown>;
    onMine: () => void;
    onTheirs: () => void;
}) {
    if (!(error instanceof ApiError) || error.code !== 'clash') return null;
    const theirs = error.now ?? {};
    const say = (v: unknown) =>
        v === null || v === undefined || v === '' ? '(nothing)' : typeof v === 'object' ? JSON.stringify(v) : String(v);
    const rows = Object.keys(theirs).filter((k) => say(theirs[k]) !== say(mine[k]));
    return (
        <section
            role="alert"
            aria-label="Changed by somebody else"
            className="border-l-4 border-ember bg-knot rounded-r px-4 py-3 grid gap-2"
        >
            <p className="font-bold">Somebody else changed this while you had it open. Nothing is lost: choose which stands.</p>
            {rows.length > 0 && (
                <table>
                    <thead>
                        <tr className="text-left">
                            <th scope="col">What</th>
                            <th scope="col">Yours</th>
                            <th scope="col">Stored now</th>
                        </tr>
                    </thead>
                    <tbody>
                        {rows.map((k) => (
                            <tr key={k} className="align-top">
                                <th scope="row" className="text-left font-normal pr-4">
                                    {labels[k] ?? k}
                                </th>
                                <td className="pr-4 font-bold">{say(mine[k])}</td>
                                <td>{say(theirs[k])}</td>
                            </tr>
                        ))}
                    </tbody>
                </table>
            )}
            <div className="flex flex-wrap gap-2">
                <Button look="main" onClick={onMine}>
                    Keep mine
                </Button>
                <Button onClick={onTheirs}>Take what is stored</Button>
            </div>
        </section>
    );
}
