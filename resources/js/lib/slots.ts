/**
 * Where answers are kept while screens look at them, each under one name: what writes says `slots.job(id)`, and every screen of that
 * job follows. A slot without its particulars is all of its kind.
 */
type Part = string | number | boolean | null | undefined | object;

/**
 * What was answered of the same thing before, while a newer answer is on its way: a form over it stays as it is. Of another job or cell,
 * by the first particular of the slot, nothing is shown.
 */
export const before =
    (id: Part) =>
    <T>(old: T | undefined, query?: { queryKey: readonly unknown[] }): T | undefined =>
        query?.queryKey[1] === id ? old : undefined;

export const slots = {
    balancePlan: (...of: Part[]) => ['balance-plan', ...of] as const,
    backup: (...of: Part[]) => ['backup', ...of] as const,
    batches: (...of: Part[]) => ['batches', ...of] as const,
    bench: (...of: Part[]) => ['bench', ...of] as const,
    build: (...of: Part[]) => ['build', ...of] as const,
    capacity: (...of: Part[]) => ['capacity', ...of] as const,
    cell: (...of: Part[]) => ['cell', ...of] as const,
    cells: (...of: Part[]) => ['cells', ...of] as const,
    check: (...of: Part[]) => ['check', ...of] as const,
    colleagues: (...of: Part[]) => ['colleagues', ...of] as const,
    consents: (...of: Part[]) => ['consents', ...of] as const,
    customer: (...of: Part[]) => ['customer', ...of] as const,
    customers: (...of: Part[]) => ['customers', ...of] as const,
    deal: (...of: Part[]) => ['deal', ...of] as const,
    door: (...of: Part[]) => ['door', ...of] as const,
    faults: (...of: Part[]) => ['faults', ...of] as const,
    instruments: (...of: Part[]) => ['instruments', ...of] as const,
    job: (...of: Part[]) => ['job', ...of] as const,
    joints: (...of: Part[]) => ['joints', ...of] as const,
    boardWanted: (...of: Part[]) => ['board-wanted', ...of] as const,
    quote: (...of: Part[]) => ['quote', ...of] as const,
    labelCheck: (...of: Part[]) => ['label-check', ...of] as const,
    lookups: (...of: Part[]) => ['lookups', ...of] as const,
    lane: (...of: Part[]) => ['lane', ...of] as const,
    lots: (...of: Part[]) => ['lots', ...of] as const,
    training: (...of: Part[]) => ['training', ...of] as const,
    teardown: (...of: Part[]) => ['teardown', ...of] as const,
    knownPack: (...of: Part[]) => ['known-pack', ...of] as const,
    phone: (...of: Part[]) => ['phone', ...of] as const,
    owner: (...of: Part[]) => ['owner', ...of] as const,
    fleet: (...of: Part[]) => ['fleet', ...of] as const,
    messages: (...of: Part[]) => ['messages', ...of] as const,
    mailbox: (...of: Part[]) => ['mailbox', ...of] as const,
    packs: (...of: Part[]) => ['packs', ...of] as const,
    pack: (...of: Part[]) => ['pack', ...of] as const,
    photos: (...of: Part[]) => ['photos', ...of] as const,
    people: (...of: Part[]) => ['people', ...of] as const,
    prices: (...of: Part[]) => ['prices', ...of] as const,
    priors: (...of: Part[]) => ['priors', ...of] as const,
    recovery: (...of: Part[]) => ['recovery', ...of] as const,
    recoveryPlan: (...of: Part[]) => ['recovery-plan', ...of] as const,
    replay: (...of: Part[]) => ['replay', ...of] as const,
    search: (...of: Part[]) => ['search', ...of] as const,
    securityLog: (...of: Part[]) => ['security-log', ...of] as const,
    series: (...of: Part[]) => ['series', ...of] as const,
    session: (...of: Part[]) => ['session', ...of] as const,
    sessions: (...of: Part[]) => ['sessions', ...of] as const,
    settings: (...of: Part[]) => ['settings', ...of] as const,
    substitutes: (...of: Part[]) => ['substitutes', ...of] as const,
};
