import { useOutletContext } from 'react-router';
import { looks, symptoms } from '@/lib/format';
import { Basis, Button, Go } from '@/parts/basics';
import { type Act, factsOf } from './training';
import type { InRound } from './Round';

/** What whoever brought it tells, what is printed on it, and the look at it. */
export function Component() {
    const { round, act, doing } = useOutletContext<InRound>();
    const pack = round.brief.pack;
    const looked = round.acts.find((a) => (a.act as Act).do === 'look')?.result as Record<string, unknown> | undefined;
    const found = looks.filter((l) => looked?.[l.key] === true && l.key !== 'metal_case');
    return (
        <div className="p-5 grid gap-5 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)] items-start">
            <section aria-label="What is said of it" className="sheet p-5 grid gap-3">
                <h2>What is said of it</h2>
                <p className="text-xl">&ldquo;{round.brief.says}&rdquo;</p>
                {round.brief.symptoms.length > 0 && (
                    <p>
                        Written down as: <b>{round.brief.symptoms.map((s) => symptoms[s] ?? s.replaceAll('-', ' ')).join(', ')}</b>.{' '}
                        <Basis of="reported" />
                    </p>
                )}
                <h2>The case</h2>
                {looked ? (
                    found.length === 0 ? (
                        <p className="text-moss font-bold">✓ Nothing swollen, leaking, warm, wet, crushed or burnt; no smell.</p>
                    ) : (
                        <ul>
                            {found.map((l) => (
                                <li key={l.key} className="text-ember font-bold">
                                    ⬣ {l.answers[0]}
                                </li>
                            ))}
                        </ul>
                    )
                ) : (
                    <p>Nobody has looked at it yet.</p>
                )}
                <div className="flex flex-wrap gap-3">
                    {!looked && !round.over && (
                        <Button look="main" disabled={doing > 0} onClick={() => void act({ do: 'look' })}>
                            Look at it
                        </Button>
                    )}
                    <Go to={`/training/${round.id}/probe`} look={looked ? 'main' : 'plain'}>
                        To the probes
                    </Go>
                </div>
            </section>
            <section aria-label="What pack it is" className="sheet p-5">
                <h2 className="pb-2">What pack it is</h2>
                <table className="w-full">
                    <tbody>
                        <tr className="border-b border-line">
                            <th scope="row" className="text-left font-normal py-1.5">
                                Cells
                            </th>
                            <td className="text-right">
                                {pack.series} groups of {pack.parallel}, {pack.chemistry}
                            </td>
                        </tr>
                        {factsOf(pack).map(([name, v, unit]) => (
                            <tr key={name} className="border-b border-line">
                                <th scope="row" className="text-left font-normal py-1.5">
                                    {name}
                                </th>
                                <td className="text-right">
                                    <span className="digits">{v}</span> {unit}
                                </td>
                            </tr>
                        ))}
                    </tbody>
                </table>
            </section>
        </div>
    );
}
