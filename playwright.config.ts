import { execFileSync } from 'node:child_process';
import { defineConfig } from '@playwright/test';

/** A port that is free; whoever runs a test reads this file again and takes the same. */
const ASKS =
  'const s=require("net").createServer().listen(0,"127.0.0.1",()=>{console.log(s.address().port);s.close()})';
process.env['QUILL_TEST_PORT'] ??= execFileSync(process.execPath, ['-e', ASKS], {
  encoding: 'utf8',
}).trim();
const port = Number(process.env['QUILL_TEST_PORT']);

export default defineConfig({
  testDir: 'e2e',
  timeout: 60_000,
  // A machine of two slow cores takes its time; what is never so fails all the same.
  expect: { timeout: 20_000 },
  workers: 2,
  // One that came only at the second try is named at the end of the whole test.
  retries: 1,
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    // What is kept of the built files is tested where it is allowed.
    serviceWorkers: 'block',
    launchOptions: {
      executablePath: process.env['CHROMIUM_PATH'] ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--autoplay-policy=no-user-gesture-required',
      ],
    },
  },
  webServer: {
    command: 'node dist/server/main.mjs',
    env: { PORT: String(port) },
    url: `http://127.0.0.1:${port}`,
    reuseExistingServer: false,
  },
});
