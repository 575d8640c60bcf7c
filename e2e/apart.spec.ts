import { type ChildProcess, spawn } from 'node:child_process';
import { appendFileSync, cpSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from '@playwright/test';
import { saltBellRound, turnOfTheTide } from '../demo/tunes';
import { alone, settled } from './desk';

/** A server of its own; the addresses that it prints. */
async function serve(dist: string, ...args: string[]): Promise<[ChildProcess, string[]]> {
  const server = spawn(process.execPath, [join(dist, 'server', 'main.mjs'), ...args], {
    env: { ...process.env, PORT: '0' },
  });
  const printed = await new Promise<string>((done) => {
    let text = '';
    server.stdout.on('data', (part: Buffer) => {
      text += part.toString();
      if (text.split('\n').length > 2) done(text);
    });
  });
  return [server, [...printed.matchAll(/http:\S+/g)].map((m) => m[0])];
}

alone('what is saved in the watched folder is the newer export of its source', async ({ page }) => {
  const folder = mkdtempSync(join(tmpdir(), 'quill-'));
  const [server, addresses] = await serve('dist', '--watch', folder);
  try {
    await page.goto(addresses[1]!);
    const strip = page.getByRole('region', { name: 'Watched folder' });
    await expect(strip).toContainText('Watching');
    writeFileSync(join(folder, 'tide.mid'), turnOfTheTide());
    await strip.getByRole('button', { name: '1 file waits' }).click();
    await strip.getByRole('button', { name: 'A new job' }).click();
    await page.getByRole('link', { name: 'tide' }).click();
    await expect(page.getByRole('heading', { name: 'tide' })).toBeVisible();
    await settled(page);
    // Saved again: on the screen without anything being asked.
    writeFileSync(join(folder, 'tide.mid'), saltBellRound());
    await expect(strip).toContainText('newer export of “tide”');
    await expect(page.getByRole('button', { name: 'Undo' })).toHaveAttribute(
      'title',
      'Undo: Newer export: tide.mid',
    );
    const said = await strip.getByRole('status').textContent();
    expect(Number(/([\d.]+) s$/.exec(said!.trim())![1])).toBeLessThan(1.5);
  } finally {
    server.kill();
  }
});

alone.describe('kept in the browser', () => {
  alone.use({
    serviceWorkers: 'allow',
    errorsExpected:
      /Failed to load resource|ERR_CONNECTION_REFUSED|Failed to update a ServiceWorker/,
  });
  alone(
    'the desk opens without its server; a newer version waits for a click',
    async ({ page }) => {
      const dist = join(mkdtempSync(join(tmpdir(), 'quill-')), 'dist');
      cpSync('dist', dist, { recursive: true });
      const [server, addresses] = await serve(dist);
      try {
        await page.goto(addresses[1]!);
        await page.evaluate(() => navigator.serviceWorker.ready);
        await page.evaluate(
          () =>
            new Promise<void>((done) => {
              if (navigator.serviceWorker.controller) return done();
              navigator.serviceWorker.addEventListener('controllerchange', () => done());
            }),
        );
        // Another build: it is told, and waits.
        appendFileSync(join(dist, 'app', 'sw.js'), '\n// later');
        await page.reload();
        await expect(page.getByText('A newer version of Wary Quill is ready')).toBeVisible();
        await page.getByRole('button', { name: 'Load it' }).click();
        await expect(page.getByText('A newer version of Wary Quill is ready')).toBeHidden();
      } finally {
        server.kill();
      }
      await page.goto(`${addresses[1]!}targets`);
      await expect(page.getByRole('heading', { name: 'Targets' })).toBeVisible();
      await page.goto(addresses[1]!);
      await expect(page.getByText('Nothing is on the desk yet')).toBeVisible();
      expect(await page.evaluate(() => crossOriginIsolated)).toBe(true);
    },
  );
});
