import { v7 } from 'uuid';
import { number } from './number';

export interface PastedReading {
    id: string;
    at: string;
    condition: 'rest' | 'full' | 'charge' | 'discharge';
    soc?: number;
    groups_v?: (number | null)[];
    highest_v?: number;
    lowest_v?: number;
}
const CONDITIONS = ['rest', 'full', 'charge', 'discharge'] as const;

/**
 * Dated readings as they are pasted, a line each: date, condition (rest where none is said), percent where it is known, then the volts of
 * every group from B-, "-" where one was not read, or the highest and the lowest alone. Blanks, tabs and semicolons between.
 */
export function pasted(text: string, series: number): { readings: PastedReading[]; wrong: string[] } {
    const readings: PastedReading[] = [];
    const wrong: string[] = [];
    text.split('\n').forEach((line, i) => {
        const parts = line
            .trim()
            .split(/[\s;]+/)
            .filter((p) => p !== '');
        if (parts.length === 0 || /^(date|#)/i.test(parts[0]!)) return;
        const say = (why: string) => wrong.push(`Line ${i + 1}: ${why}.`);
        let day = parts.shift()!;
        if (/^\d{1,2}:\d{2}$/.test(parts[0] ?? '')) day += `T${parts.shift()!.padStart(5, '0')}`;
        const at = /^\d{4}-\d{2}-\d{2}(T\d{2}:\d{2}(:\d{2})?Z?)?$/.test(day) ? new Date(day.length === 10 ? `${day}T12:00` : day) : null;
        if (!at || Number.isNaN(at.getTime())) return say(`"${day}" is no date such as 2026-03-04`);
        const condition = CONDITIONS.find((c) => c === parts[0]?.toLowerCase());
        if (condition) parts.shift();
        let soc: number | undefined;
        if (/%$/.test(parts[0] ?? '')) soc = number(parts.shift()!.slice(0, -1)) / 100;
        if (soc !== undefined && !(soc >= 0 && soc <= 1)) return say('percent is between 0 and 100');
        const volts = parts.map((p) => (p === '-' ? null : number(p)));
        if (volts.some((v) => v !== null && !(v > -10 && v < 10))) return say('a group has between 0 and 5 V');
        const base = { id: v7(), at: at.toISOString(), condition: condition ?? 'rest', ...(soc === undefined ? {} : { soc }) } as const;
        if (volts.length === series && series !== 2) readings.push({ ...base, groups_v: volts });
        else if (volts.length === 2 && volts[0] !== null && volts[1] !== null)
            readings.push({ ...base, highest_v: Math.max(volts[0]!, volts[1]!), lowest_v: Math.min(volts[0]!, volts[1]!) });
        else say(`${volts.length} volts, and the pack has ${series} groups: every group, or the highest and the lowest`);
    });
    return { readings, wrong };
}
