import { useQuery } from '@tanstack/react-query';
import { api, unwrap } from '@/api/client';
import { when } from '@/lib/format';
import { slots } from '@/lib/slots';

/** The last good backup of this server, and what is wrong where there is none. */
export function Backup() {
    const backup = useQuery({ queryKey: slots.backup(), queryFn: () => unwrap(api.GET('/api/backup')) });
    const b = backup.data;
    return (
        <section id="backup" aria-label="Backup" className="sheet p-4 grid gap-2 scroll-mt-4">
            <h2>Backup</h2>
            {backup.isError && <p role="alert">{backup.error.message}</p>}
            {b && (
                <>
                    {b.good ? (
                        <p>
                            The last good one is of <b>{when(b.good.at)}</b>: {b.good.words.replace(/^taken [^,]*, /, '').trim()}.
                        </p>
                    ) : (
                        <p role="status">No backup was taken yet: one is taken every night while this server runs.</p>
                    )}
                    {b.good && b.old && (
                        <p role="alert" className="border-l-4 border-ember pl-3">
                            That is more than a night ago. Whoever runs this server: <code>./heartwood status</code>.
                        </p>
                    )}
                    {b.failed && (
                        <p role="alert" className="border-l-4 border-ember pl-3">
                            {when(b.failed.at)}: {b.failed.words}
                        </p>
                    )}
                    <p className="text-muted">
                        Nights lie beside the data: a copy on another disk is <code>./heartwood backup FILE.tar</code>, put back by{' '}
                        <code>./heartwood restore FILE.tar</code> in an empty clone. Its keys are sealed apart where a passphrase is said.
                    </p>
                </>
            )}
        </section>
    );
}
