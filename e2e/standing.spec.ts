import { expect, type Page } from '@playwright/test';
import { benchSong } from '../bench/songs';
import { alone, drop, openDemo, settled, stops } from './desk';

/*
 * What the desk says and keeps when something is given up, is missing or ends: each test has a page of
 * its own.
 */

const docket = (page: Page) => page.locator('.docket');

/** Answers of workers come as late as `slow` says, so that what is waited for can be given up. */
const slowWorkers = (page: Page) =>
  page.addInitScript(() => {
    const own = globalThis as unknown as { slow: number; Worker: typeof Worker };
    own.slow = 0;
    own.Worker = class extends Worker {
      override addEventListener(type: string, does: never, options?: never) {
        const late = (event: Event) =>
          void setTimeout(() => (does as (e: Event) => void)(event), own.slow);
        super.addEventListener(type, type === 'message' ? late : does, options);
      }
    };
  });
const slow = (page: Page, ms: number) =>
  page.evaluate((by) => void ((globalThis as unknown as { slow: number }).slow = by), ms);

alone('a proof that is given up judges nothing until it is done again', async ({ page }) => {
  await slowWorkers(page);
  // One without a recording: what is heard in one is a reason of its own to judge anew.
  await openDemo(page, 'Salt bell round');
  await expect(stops(page)).toContainText('stop');
  const plan = page.getByRole('tab', { name: /Plan/ });
  const steps = parseInt((await plan.textContent())!.replace(/\D/g, ''), 10);
  await plan.click();
  await page.getByRole('button', { name: 'Add a step' }).click();
  await page.locator('.adding .n-select').first().click();
  await page.getByText('Transpose', { exact: true }).click();
  await page.locator('.adding input').nth(1).fill('2');
  await slow(page, 3000);
  await page.getByRole('button', { name: 'Add to the plan' }).dblclick();
  const busy = page.getByRole('status').filter({ hasText: 'Holding it against the rules' });
  await busy.getByRole('button', { name: 'Cancel' }).click();
  await expect(docket(page)).toContainText('not proofed');
  await expect(stops(page)).toHaveCount(0);
  await expect(page.getByRole('link', { name: /^Proof/ })).toHaveAttribute('title', 'not proofed');
  await slow(page, 0);
  // A double click was one step, beside those that there were.
  await expect(plan).toContainText(String(steps + 1));
  await docket(page).getByRole('button', { name: 'Proof again' }).click();
  await expect(stops(page)).toBeVisible();
  await expect(docket(page)).not.toContainText('not proofed');
});

alone('a mend is kept though the page is loaded anew at once', async ({ page }) => {
  await openDemo(page, 'Turn of the tide');
  for (const left of ['6 stops', '5 stops']) {
    const note = page.locator('.note').first();
    await note.getByRole('button').first().click();
    await page.locator('.note').first().locator('button.n-button').first().click();
    await page.reload();
    await settled(page);
    await expect(stops(page)).toContainText(left);
  }
});

alone.describe('what cannot be loaded', () => {
  alone.use({
    errorsExpected: /could not be loaded|Failed to|Unable to preload|resolve component/,
  });

  alone('an engine that is missing is said, and the job can be saved', async ({ page }) => {
    let asked = 0;
    await openDemo(page, 'Turn of the tide');
    const mend = docket(page).getByRole('button', { name: /^Mend what loses nothing/ });
    await expect(mend).toBeVisible();
    // A rebuild under an open tab: the next worker is not there any more.
    await page.route(/\/assets\/entry-.*\.js$/, (route) => {
      asked++;
      return route.fulfill({ status: 404, body: '' });
    });
    await page.reload();
    const notice = page.getByRole('alert').filter({ hasText: 'could not be loaded' });
    await expect(notice.first()).toBeVisible({ timeout: 15_000 });
    const waiting = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Save the job as a file' }).click();
    expect((await waiting).suggestedFilename()).toMatch(/\.quilljob$/);
    // Asked for again now and then, not over and over.
    expect(asked).toBeLessThan(20);
    await page.unroute(/\/assets\/entry-.*\.js$/);
    await page.getByRole('button', { name: 'Load the page again' }).click();
    await settled(page);
    await expect(stops(page)).toContainText('7 stops');
  });

  alone('a page that cannot be loaded is said in a sentence', async ({ page }) => {
    await page.goto('/?demo=turn-of-the-tide');
    await settled(page);
    await page.route(/\/assets\/FitView-.*$/, (route) => route.abort());
    await page.getByRole('link', { name: 'Fit' }).click();
    const said = page.getByRole('alert');
    await expect(said).toContainText('could not be loaded');
    await expect(said).not.toContainText(/fetch|import|http/i);
  });
});

alone('without a database the first page says so', async ({ page }) => {
  await page.addInitScript(() => {
    Object.defineProperty(globalThis, 'indexedDB', { value: undefined });
  });
  await page.goto('/?demo=1');
  await expect(page.getByRole('alert')).toContainText('does not let Wary Quill keep data');
});

alone('several scores are asked about once, and are what is said', async ({ page }) => {
  const song = (name: string) => ({ name, bytes: benchSong({ notes: 60, tracks: 2 }) });
  await page.goto('/');
  await drop(page, [
    song('one.mid'),
    song('two.mid'),
    { name: 'bad.mid', bytes: new Uint8Array(3) },
  ]);
  const dialog = page.getByRole('dialog', { name: '2 files' });
  await expect(dialog).toBeVisible();
  // The focus is on what is done most likely, so that Enter does it.
  await expect(dialog.getByRole('button', { name: 'A job each' })).toBeFocused();
  await dialog.getByRole('button', { name: /the parts of one score/ }).click();
  await settled(page);
  await expect(page.locator('.docket .source')).toHaveText('2 sources');
  await expect(page.getByRole('alert')).toContainText('bad.mid');
});

alone(
  'in a window of 800 pixels, and at twice the size, everything can be reached',
  async ({ page }) => {
    await page.setViewportSize({ width: 800, height: 700 });
    await openDemo(page, 'Turn of the tide');
    const beyond = () =>
      page.evaluate(() =>
        [...document.querySelectorAll('button, a, input')]
          .filter((e) => {
            const { width, right } = e.getBoundingClientRect();
            return width > 0 && right > innerWidth + 1;
          })
          .map((e) => e.getAttribute('aria-label') ?? e.textContent),
      );
    await expect.poll(beyond).toEqual([]);
    await page.setViewportSize({ width: 640, height: 400 });
    await expect.poll(beyond).toEqual([]);
    const main = page.locator('.docket .n-button--primary-type');
    await main.scrollIntoViewIfNeeded();
    await expect(main).toBeInViewport();
    await page.getByRole('link', { name: 'Jobs', exact: true }).click();
    await page.setViewportSize({ width: 800, height: 700 });
    const save = page.getByRole('button', { name: 'Save Turn of the tide as a file' });
    await expect(save).toBeInViewport();
    await expect.poll(beyond).toEqual([]);
  },
);
