import { z } from 'zod';
import { optional } from '@/lib/number';
import { typedNumber } from '@/lib/form';

/** What may be said of the device, the board and the charger of a pack: one list, read by the form, the record and its links. */
export interface PartField {
    name: string;
    label: string;
    unit?: string;
    whole?: boolean;
    choices?: readonly string[];
    /** A yes or no. */
    flag?: boolean;
}
export type PartName = 'load' | 'bms' | 'charger';
export const PARTS: Record<PartName, { kind: 'device' | 'board' | 'charger'; title: string; fields: PartField[] }> = {
    load: {
        kind: 'device',
        title: 'Device',
        fields: [
            { name: 'power_w', label: 'Draws', unit: 'W' },
            { name: 'controller_limit_a', label: 'Controller allows', unit: 'A' },
            { name: 'peak_a', label: 'Peak', unit: 'A' },
            { name: 'peak_s', label: 'for', unit: 's' },
        ],
    },
    bms: {
        kind: 'board',
        title: 'Board',
        fields: [
            { name: 'series', label: 'Groups', whole: true },
            { name: 'discharge_limit_a', label: 'Discharge limit', unit: 'A' },
            { name: 'peak_limit_a', label: 'Peak limit', unit: 'A' },
            { name: 'peak_s', label: 'after', unit: 's' },
            { name: 'charge_limit_a', label: 'Charge limit', unit: 'A' },
            { name: 'high_cut_v', label: 'Cuts a group over', unit: 'V' },
            { name: 'high_release_v', label: 'back under', unit: 'V' },
            { name: 'low_cut_v', label: 'Cuts a group under', unit: 'V' },
            { name: 'low_release_v', label: 'back over', unit: 'V' },
            { name: 'low_temperature_cut_c', label: 'No charge under', unit: 'degC' },
            { name: 'balance', label: 'Balances', choices: ['passive', 'active', 'none', 'unknown'] },
            { name: 'balance_current_a', label: 'with', unit: 'A' },
            { name: 'wake', label: 'Woken by', choices: ['button', 'enable-wire', 'device', 'charger', 'none', 'unknown'] },
            { name: 'separate_charge_port', label: 'Own port for charge', flag: true },
            { name: 'temperature_sensor', label: 'Temperature sensor', flag: true },
        ],
    },
    charger: {
        kind: 'charger',
        title: 'Charger',
        fields: [
            { name: 'cv_v', label: 'Ends at', unit: 'V' },
            { name: 'cc_a', label: 'Gives', unit: 'A' },
            { name: 'profile', label: 'Profile', choices: ['li-ion', 'lfp', 'lead-acid', 'automatic', 'unknown'] },
        ],
    },
};
export const PART_NAMES = Object.keys(PARTS) as PartName[];
export type PartForm = Record<string, string>;

/** Every field of a part, empty: what a form begins with. */
export const emptyPart = (part: PartName): PartForm => Object.fromEntries(PARTS[part].fields.map((f) => [f.name, '']));

export const partSchema = (part: PartName) =>
    z.object(
        Object.fromEntries(
            PARTS[part].fields.map((f) => [
                f.name,
                f.choices || f.flag ? z.string() : typedNumber({ whole: f.whole === true, ...(f.unit === 'degC' ? {} : { least: 0 }) }),
            ]),
        ),
    );

/** A part as the record has it, out of what is typed; null when nothing is said. */
export function toPart(part: PartName, form: PartForm): Record<string, unknown> | null {
    const said = PARTS[part].fields.flatMap((f): [string, unknown][] => {
        const text = form[f.name] ?? '';
        if (text === '') return [];
        const value = f.flag ? text === 'yes' : f.choices ? text : optional(text);
        return value === undefined || Number.isNaN(value) ? [] : [[f.name, value]];
    });
    return said.length === 0 ? null : Object.fromEntries(said);
}

export function fromPart(part: PartName, spec: Record<string, unknown> | undefined): PartForm {
    const text = (v: unknown) =>
        v === true ? 'yes' : v === false ? 'no' : typeof v === 'number' || typeof v === 'string' ? String(v) : '';
    return Object.fromEntries(PARTS[part].fields.map((f) => [f.name, text(spec?.[f.name])]));
}

/** What is said of a part, in one line. */
export const saidOf = (part: PartName, form: PartForm) =>
    PARTS[part].fields
        .filter((f) => (form[f.name] ?? '') !== '')
        .map((f) => `${f.label.toLowerCase()} ${form[f.name]!}${f.unit ? ` ${f.unit}` : ''}`)
        .join(', ');
