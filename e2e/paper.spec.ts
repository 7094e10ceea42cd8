import { expect, test } from '@playwright/test';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { signIn } from './bench';

interface Sheet {
    words: string;
    /** Of the box of all that is written, in points from the foot and the left of the page. */
    low: number;
    high: number;
    left: number;
    right: number;
    size: [number, number];
    last: string;
}

async function pages(data: Uint8Array): Promise<Sheet[]> {
    const pdf = await getDocument({ data, verbosity: 0 }).promise;
    const out: Sheet[] = [];
    for (let i = 1; i <= pdf.numPages; i++) {
        const page = await pdf.getPage(i);
        const items = (await page.getTextContent()).items.flatMap((t) => ('str' in t && t.str.trim() !== '' ? [t] : []));
        const [, , w, h] = page.view as [number, number, number, number];
        out.push({
            words: items.map((t) => t.str).join(' '),
            low: Math.min(...items.map((t) => t.transform[5] as number)),
            high: Math.max(...items.map((t) => t.transform[5] as number)),
            left: Math.min(...items.map((t) => t.transform[4] as number)),
            right: Math.max(...items.map((t) => (t.transform[4] as number) + t.width)),
            size: [w, h],
            last: items.length === 0 ? '' : items[items.length - 1]!.str.trim(),
        });
    }
    return out;
}

test('every page of every paper is read: none is blank, nothing is cut, no heading stands alone at the foot', async ({ page }) => {
    await signIn(page);
    const bench = (await (await page.request.get('/api/bench')).json()) as {
        jobs: { id: number; name: string; lane: string }[];
    };
    // One that went back, one at each stage that has something of its own to say, and one in quarantine.
    const names = ['Shears 08', 'Laptop 02', 'Deck scooter 5', 'Night block', 'Harbour chair'];
    const named = names.map((n) => bench.jobs.filter((j) => j.name === n).sort((a, b) => a.id - b.id)[0]!);
    const jobs = [...named, ...bench.jobs.filter((j) => j.lane === 'held').slice(0, 1)];
    const papers = [
        ...jobs.map((j) => ({ name: `report of ${j.name}`, at: `/api/jobs/${j.id}/report.pdf`, wants: 'What you told us' })),
        { name: 'a quote', at: `/api/jobs/${jobs[0]!.id}/quote.pdf`, wants: 'If more is found' },
        { name: 'a build sheet', at: `/api/jobs/${jobs[0]!.id}/build.pdf`, wants: jobs[0]!.name },
    ];
    expect(papers).toHaveLength(8);
    for (const paper of papers) {
        const answer = await page.request.get(paper.at);
        expect(answer.status(), paper.name).toBe(200);
        const read = await pages(new Uint8Array(await answer.body()));
        expect(read.map((p) => p.words).join(' '), paper.name).toContain(paper.wants);
        read.forEach((p, i) => {
            const where = `${paper.name}, page ${i + 1} of ${read.length}`;
            expect(p.words.length, `${where} is blank`).toBeGreaterThan(30);
            expect(p.left, `${where} is cut at the left`).toBeGreaterThan(20);
            expect(p.right, `${where} is cut at the right`).toBeLessThan(p.size[0] - 20);
            expect(p.low, `${where} is cut at the foot`).toBeGreaterThan(20);
            expect(p.high, `${where} is cut at the head`).toBeLessThan(p.size[1] - 20);
            expect(
                ['Proof', 'What was found', 'From first look to now', 'Photos', 'After the work'],
                `${where} ends with a heading`,
            ).not.toContain(p.last);
        });
    }
});
