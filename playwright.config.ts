import { defineConfig } from '@playwright/test';

/** Debian's Chromium, as it runs without a desktop and without a way to the outside. */
const CHROMIUM_FLAGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync'
];

export default defineConfig({
  testDir: 'e2e',
  testMatch: '*.spec.ts',
  workers: 2,
  // No test rests on one before it: both workers have work to the end.
  fullyParallel: true,
  forbidOnly: !!process.env.CI,
  // Limits end what hangs; a machine with other work to do was seen to be ten times slower than a quiet one.
  timeout: 300_000,
  expect: { timeout: 100_000 },
  reporter: [['list']],
  snapshotPathTemplate: '{testDir}/sheets/{arg}{ext}',
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env.LODESTONE_CHROMIUM ?? '/usr/bin/chromium-headless-shell',
      args: CHROMIUM_FLAGS
    },
    // Each page would fetch the whole program once more; what works without the server is tested where it is allowed.
    serviceWorkers: 'block',
    actionTimeout: 60_000,
    trace: 'off'
  }
});
