import { slots } from '@/lib/slots';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { FormProvider, useWatch } from 'react-hook-form';
import { toast } from 'sonner';
import { z } from 'zod';
import { api, type Job, key, unwrap } from '@/api/client';
import { usePerson } from '@/lib/bench';
import { jobQuery, useJob, useJobId, useJobWrite } from '@/lib/job';
import { count, type Symptom, when } from '@/lib/format';
import { useBenchForm, words } from '@/lib/form';
import { Button, Cautions, Go } from '@/parts/basics';
import { Clash } from '@/parts/Clash';
import { FormText } from '@/parts/form';
import { Agreed } from './Agreed';
import { fromPack, PACK, PackFields, toPack } from './PackFields';
import { type Inspection, SymptomFields, TriageFields } from './TriageFields';
import { bandsOf } from '@/lib/bands';
import { CoreSample } from '@/parts/CoreSample';
import { JobLine } from '@/parts/JobLine';
import { KnownPack } from '@/parts/KnownPack';
import { LabelPhoto, Photos } from '@/parts/Photos';

const JOB = z.object({
    name: words('what this pack is called here.'),
    serial: z.string(),
    batch: z.string(),
    complaint: z.string(),
    pack: PACK,
    /** What the entry was begun from. */
    version: z.string(),
});
type JobForm = z.input<typeof JOB>;

const formOf = (job: Job): JobForm => ({
    name: job.name,
    serial: job.serial,
    batch: job.batch,
    complaint: job.complaint,
    pack: fromPack(job.pack),
    version: job.version,
});

export function Component() {
    const job = useJob(useJobId()).data;
    return job ? <Edit key={job.id} job={job} /> : null;
}

function Edit({ job }: { job: Job }) {
    const form = useBenchForm(JOB, formOf(job), `job.${job.id}.${usePerson().id}`);
    const at = { control: form.control };
    const pack = useWatch({ ...at, name: 'pack' });
    const queries = useQueryClient();
    const lookups = useQuery({ queryKey: slots.lookups(), queryFn: () => unwrap(api.GET('/api/lookups')) });
    const path = { job: job.id };
    const cell = lookups.data?.cell_models.find((c) => c.name === pack.cell);
    const bodyOf = ({ version: _, ...typed }: JobForm) => ({
        ...typed,
        pack: toPack(typed.pack, job.pack, cell && { model: cell.name, ...cell.spec }),
    });
    const save = useJobWrite(
        ({ version, ...typed }: JobForm) =>
            unwrap(
                api.PATCH('/api/jobs/{job}', {
                    params: { path, header: { ...key(), 'If-Match': version } },
                    body: bodyOf({ version, ...typed }),
                }),
            ),
        (now) => {
            form.forget(formOf(now));
            toast.success('Kept.');
        },
    );
    const keep = (typed: JobForm) => save.mutate(typed, { onError: (e) => void form.refused(e) });
    const triage = useJobWrite((body: { inspection: Inspection; symptoms: Symptom[]; withdrawn: Symptom[] }) =>
        unwrap(api.POST('/api/jobs/{job}/triage', { params: { path, header: key() }, body })),
    );
    // What was just tapped is shown at once and kept in sight until the server has answered.
    const [tapped, setTapped] = useState<{ inspection: Inspection; symptoms: Symptom[] | null }>({ inspection: {}, symptoms: null });
    const inspection = { ...job.inspection, ...tapped.inspection };
    const symptoms = tapped.symptoms ?? job.symptoms;
    const tap = (change: { inspection: Inspection; symptoms: Symptom[] }) => {
        setTapped((old) => ({ inspection: { ...old.inspection, ...change.inspection }, symptoms: change.symptoms }));
        // Only what changed is sent: two people at once add up, and neither undoes the other.
        const body = {
            inspection: change.inspection,
            symptoms: change.symptoms.filter((s) => !job.symptoms.includes(s)),
            withdrawn: job.symptoms.filter((s) => !change.symptoms.includes(s)),
        };
        triage.mutate(body, {
            onSuccess: (next) => {
                const stays =
                    Object.keys(body.inspection).some((k) => body.inspection[k] === false && next.inspection[k] === true) ||
                    body.withdrawn.some((s) => next.symptoms.includes(s));
                if (stays) toast.warning('What holds a pack is not unticked: a senior takes it back as entered by mistake, with a reason.');
            },
            onSettled: () => setTapped({ inspection: {}, symptoms: null }),
        });
    };
    return (
        <div className="p-4 grid gap-6 xl:grid-cols-[minmax(0,1fr)_330px] items-start">
            <div className="grid gap-6 grid-cols-[minmax(0,1fr)]">
                <KnownPack visits={job.others ?? []} />
                <section className="grid gap-3" aria-label="Look at it">
                    <h2>Look at it: any time, whoever sees it</h2>
                    <TriageFields inspection={inspection} change={(patch) => tap({ inspection: patch, symptoms })} />
                </section>
                <Agreed job={job} />
                <Photos job={job} />
                <p>
                    <Go to={`/jobs/${job.id}/teardown`}>Take it apart, step by step</Go>
                </p>
                <section className="grid gap-3" aria-label="What is said of it">
                    <h2>What is said of it</h2>
                    <SymptomFields chosen={symptoms} change={(next) => tap({ inspection: {}, symptoms: next })} />
                </section>
                <form className="grid gap-4 grid-cols-[minmax(0,1fr)]" aria-label="The pack" noValidate onSubmit={form.handleSubmit(keep)}>
                    <h2>The pack</h2>
                    <div className="grid gap-3 md:grid-cols-3">
                        <FormText {...at} name="name" label="Name of this pack" />
                        <FormText {...at} name="serial" label="Serial or mark" />
                        <FormText {...at} name="batch" label="Batch" />
                    </div>
                    <LabelPhoto job={job.id} />
                    <FormProvider {...form}>
                        <PackFields cells={lookups.data?.cell_models ?? []} parts={lookups.data?.part_models ?? []} />
                    </FormProvider>
                    <FormText {...at} name="complaint" label="In the customer's words" rows={3} />
                    <Clash
                        error={save.error}
                        labels={{ name: 'Name', serial: 'Serial', batch: 'Batch', complaint: 'In their words', pack: 'The pack' }}
                        mine={bodyOf(form.getValues())}
                        onMine={() =>
                            void queries.fetchQuery(jobQuery(job.id)).then((now) => keep({ ...form.getValues(), version: now.version }))
                        }
                        onTheirs={() =>
                            void queries.fetchQuery(jobQuery(job.id)).then((now) => {
                                save.reset();
                                form.forget(formOf(now));
                            })
                        }
                    />
                    <div>
                        <Button type="submit" look="main" disabled={save.isPending}>
                            Keep these changes
                        </Button>
                    </div>
                </form>
            </div>
            <aside aria-label="What is known" className="grid gap-4 xl:sticky xl:top-3">
                <Cautions lines={job.cautions['intake'] ?? []} />
                <div className="flex gap-4 items-start">
                    <div className="shrink-0 w-[190px]">
                        <CoreSample bands={bandsOf(job)} height={250} width={190} />
                    </div>
                    <p className="text-[0.95rem]">
                        {count(job.series, 'group')}, {job.full_v.toFixed(1)} V when full. {job.energy}
                    </p>
                </div>
                <section className="grid gap-2">
                    <h2>From first look to now</h2>
                    <JobLine line={job.line} />
                </section>
                <details>
                    <summary className="min-h-[44px] flex items-center underline underline-offset-4">
                        Everything that was written down
                    </summary>
                    <ul className="grid gap-1">
                        {job.events.slice(0, 25).map((e, i) => (
                            <li key={i}>
                                <span className="text-muted">{when(e.at)}</span> {e.kind.replaceAll('-', ' ')}{' '}
                                {e.by && <span className="text-muted">by {e.by}</span>}
                                {typeof e.data['reason'] === 'string' && e.data['reason'] !== '' && <>: {e.data['reason']}</>}
                            </li>
                        ))}
                    </ul>
                </details>
            </aside>
        </div>
    );
}
