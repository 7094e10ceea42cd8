import { defineConfig } from '@playwright/test';

/** Journeys in the system's own Chromium against the server that `./heartwood test` started. */
export const LAUNCH = {
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    args: [
        '--no-sandbox',
        '--headless',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
    ],
};

export default defineConfig({
    testDir: 'e2e',
    workers: 1,
    // A machine under load may miss a wait once; what only passes the second time is listed as flaky in the log.
    retries: 1,
    timeout: 90_000,
    expect: { timeout: 15_000 },
    outputDir: 'var/test-results/browser',
    use: {
        baseURL: process.env['BASE_URL'] ?? 'http://127.0.0.1:8137',
        viewport: { width: 1280, height: 800 },
        launchOptions: LAUNCH,
        trace: 'off',
        screenshot: 'only-on-failure',
    },
});
