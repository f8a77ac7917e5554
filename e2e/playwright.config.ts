import { defineConfig } from '@playwright/test';

const port = 8049;

/** Tests of the running product: the demo, started by its own command, in real Chromium. One after the other: they share it. */
export default defineConfig({
  testDir: './tests',
  workers: 1,
  retries: 0,
  // A test waits for what it is told, however slow the machine; a limit only ends one that waits for nothing.
  timeout: 300_000,
  expect: { timeout: 90_000 },
  reporter: [['list']],
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    trace: 'off',
    launchOptions: {
      executablePath: process.env.LUCID_CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
  // LUCID_E2E_RUNNING=yes tests a demo that already runs on that port.
  webServer:
    process.env.LUCID_E2E_RUNNING === 'yes'
      ? undefined
      : {
          command: `exec ../lucid demo --port ${port}`,
          wait: { stdout: /password of all/ },
          timeout: 240_000,
          stdout: 'pipe',
          gracefulShutdown: { signal: 'SIGTERM', timeout: 10_000 },
          env: { TMPDIR: process.env.LUCID_E2E_TMP ?? '/tmp' },
        },
});
