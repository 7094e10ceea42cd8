import type { components } from '@/api/schema';
import { count } from './format';

type LogRow = components['schemas']['LogRow'];

/** What was read of a log, and whether it counts. */
export function told(log: LogRow): string {
    const c = log.capacity;
    const first = log.errors[0];
    const skipped = log.skipped ? `, ${log.skipped} not read (first: row ${first?.row}, ${first?.text})` : '';
    const counts = c && (c.counts ? 'counts as a capacity test' : `does not count: ${c.missing.join('; ')}`);
    return `${count(log.rows, 'row')}${skipped}. ${c ? `${c.ah.toFixed(3)} Ah, ${counts}` : 'no discharge in it'}`;
}
