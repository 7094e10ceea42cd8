import { slots } from '@/lib/slots';
import { useState } from 'react';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { api, ApiError, key, unwrap } from '@/api/client';
import { Button, Field } from '@/parts/basics';
import { Places } from '@/parts/Places';

export function Component() {
    const [customer, setCustomer] = useState('');
    const [record, setRecord] = useState('');
    const navigate = useNavigate();
    const queries = useQueryClient();
    const write = useMutation({
        mutationFn: () => unwrap(api.POST('/api/import', { params: { header: key() }, body: { customer, record } })),
        onSuccess: (job) => {
            void queries.invalidateQueries({ queryKey: slots.bench() });
            void navigate(`/jobs/${job.id}/verdict`);
        },
        onError: (error) => {
            if (!(error instanceof ApiError && Object.keys(error.fields).length > 0)) toast.error(error.message);
        },
    });
    const problems = write.error instanceof ApiError ? Object.entries(write.error.fields) : [];
    return (
        <form
            className="p-5 grid gap-4 max-w-3xl"
            onSubmit={(e) => {
                e.preventDefault();
                write.mutate();
            }}
        >
            <h1>Import a job record</h1>
            <p>A record in the open format becomes a job: all of it, or nothing when something in it is wrong.</p>
            <Field label="Customer" error={write.error instanceof ApiError ? write.error.fields['customer'] : undefined}>
                {(p) => <input {...p} required value={customer} onChange={(e) => setCustomer(e.target.value)} />}
            </Field>
            <Field label="File" hint="heartwood.job, JSON">
                {(p) => (
                    <input
                        {...p}
                        type="file"
                        accept=".json,application/json"
                        onChange={(e) => void e.target.files?.[0]?.text().then(setRecord)}
                    />
                )}
            </Field>
            <Field label="or paste the record here">
                {(p) => (
                    <textarea
                        {...p}
                        rows={9}
                        className="digits text-sm"
                        value={record}
                        onChange={(e) => setRecord(e.target.value)}
                        spellCheck={false}
                    />
                )}
            </Field>
            <Places of={problems} />
            <div>
                <Button type="submit" look="main" disabled={write.isPending || record === ''}>
                    Import
                </Button>
            </div>
        </form>
    );
}
