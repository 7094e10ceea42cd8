import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

export default defineConfig({
    plugins: [
        react(),
        tailwindcss(),
        {
            // Pages run no style that does not come as a file: this package's own comes in with ours (main.tsx).
            name: 'styles-as-files',
            transform: (code, id) =>
                id.includes('/sonner/dist/') ? code.replace('function __insertCSS(code) {', 'function __insertCSS(code) { return;') : null,
        },
    ],
    base: '/build/',
    publicDir: false,
    resolve: {
        alias: {
            '@': fileURLToPath(new URL('./resources/js', import.meta.url)),
            '@contract': fileURLToPath(new URL('./contract', import.meta.url)),
        },
    },
    build: {
        outDir: 'public/build',
        manifest: 'manifest.json',
        rollupOptions: {
            input: ['resources/js/main.tsx', 'resources/js/packWorker.ts'],
            // A worker is known by its address: routes/web.php hands it out.
            output: { entryFileNames: (c) => (c.name === 'packWorker' ? 'packWorker.js' : 'assets/[name]-[hash].js') },
        },
        chunkSizeWarningLimit: 600,
    },
    test: {
        environment: 'jsdom',
        pool: 'threads',
        // Screens put stand-ins in the place of modules, each file its own; what is only computed shares one room.
        projects: [
            { extends: true, test: { name: 'computed', include: ['resources/js/**/*.test.ts'], isolate: false } },
            { extends: true, test: { name: 'screens', include: ['resources/js/**/*.test.tsx'] } },
        ],
    },
});
