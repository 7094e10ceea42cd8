import type { TFunction } from 'i18next';
import type { Glance } from '@/parts/GlanceMark';

const mv = (v: number) => Math.round(1000 * v);

/** What a mark says in words, and what such a reading cannot see. */
export function seen(t: TFunction, g: Glance): string {
    const what = {
        groups: t('glance.groups', { mv: mv(g.value_v), limit: mv(g.high_v) }),
        halves: t('glance.halves', { v: Math.abs(g.value_v).toFixed(2), limit: g.high_v.toFixed(1) }),
        whole: t('glance.whole', { v: g.value_v.toFixed(1), low: g.low_v.toFixed(1), high: g.high_v.toFixed(1) }),
    }[g.kind];
    return `${what}${g.flat ? ` ${t('glance.flat')}` : ''}`;
}

export const blind = (t: TFunction, g: Glance): string => t(`glance.blind.${g.kind}`, { v: g.sees_v.toFixed(1), mv: mv(g.sees_v) });
