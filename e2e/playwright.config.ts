import { defineConfig } from '@playwright/test';

const house = process.env['E2E_URL'] ?? 'http://127.0.0.1:4100';
const otherHouse = process.env['E2E_OTHER_URL'];
/** About half of the time that all take. */
const inOtherHouse = ['every-screen', 'slice'].map((name) => `${name}.e2e.ts`);

// The real interface against the whole ensemble; scripts/test.mjs starts it and says where it is.
export default defineConfig({
  testDir: '.',
  outputDir: '../test-results',
  // In one house one after the other: its tests share the one clock that Backstage moves. Two houses share two cores.
  workers: otherHouse ? 2 : 1,
  projects: [
    { name: 'other house', testMatch: inOtherHouse, workers: 1, use: { baseURL: otherHouse ?? house } },
    { name: 'house', testMatch: '*.e2e.ts', testIgnore: inOtherHouse, workers: 1 },
  ],
  timeout: 120_000,
  expect: { timeout: 20_000 },
  reporter: [['list']],
  use: {
    baseURL: house,
    viewport: { width: 1280, height: 800 },
    contextOptions: { reducedMotion: 'reduce' },
    trace: 'retain-on-failure',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu', '--disable-dev-shm-usage'],
    },
  },
});
