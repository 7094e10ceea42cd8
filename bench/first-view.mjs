#!/usr/bin/env node
// Gzipped JavaScript that a browser loads before the bench can be read: the entry, its imports, and the bench's own chunk.
import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';

const build = join(dirname(fileURLToPath(import.meta.url)), '../public/build');
const manifest = JSON.parse(readFileSync(join(build, 'manifest.json'), 'utf8'));
const LIMIT = 170;
const files = new Set();
const walk = (key) => {
    const chunk = manifest[key];
    if (files.has(chunk.file)) return;
    files.add(chunk.file);
    (chunk.imports ?? []).forEach(walk);
};
walk('resources/js/main.tsx');
walk('resources/js/routes/Bench.tsx');
let total = 0;
for (const file of files) {
    const size = gzipSync(readFileSync(join(build, file)), { level: 6 }).length / 1000;
    total += size;
    console.log(`${size.toFixed(1).padStart(8)} kB  ${file}`);
}
console.log(`${total.toFixed(1).padStart(8)} kB  first view (limit ${LIMIT} kB) ${total <= LIMIT ? 'ok' : 'OVER'}`);
process.exit(total <= LIMIT ? 0 : 1);
