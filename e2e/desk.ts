import { readFileSync } from 'node:fs';
import {
  test as base,
  expect,
  type ConsoleMessage,
  type Download,
  type Page,
} from '@playwright/test';

/**
 * A page of its own, whose console is watched: an error that a test does not expect fails it. Where
 * something is made to fail, `test.use({ errorsExpected: /…/ })` says which.
 */
export const alone = base.extend<{ errorsExpected: RegExp | null; watching: void }>({
  errorsExpected: [null, { option: true }],
  watching: [
    async ({ page, errorsExpected }, use) => {
      const errors: string[] = [];
      const onError = (e: Error) => errors.push(e.message);
      const onConsole = (m: ConsoleMessage) => {
        if (m.type() === 'error') errors.push(m.text());
      };
      page.on('pageerror', onError);
      page.on('console', onConsole);
      await use();
      page.off('pageerror', onError);
      page.off('console', onConsole);
      expect(errors.filter((e) => !errorsExpected?.test(e))).toEqual([]);
    },
    { auto: true },
  ],
});

/**
 * Tests of one file share a page, as somebody has it open who goes from job to job: what is loaded
 * and compiled stays. `openDemo` empties the shelf first. What needs a page of its own, because it
 * stubs something or looks at the first moments, takes `alone`.
 */
export const test = alone.extend<object, { shared: { file: string; page: Page | null } }>({
  shared: [
    async ({ browser: _ }, use) => {
      const shared = { file: '', page: null as Page | null };
      await use(shared);
      await shared.page?.context().close();
    },
    { scope: 'worker' },
  ],
  page: async ({ browser, shared }, use, info) => {
    if (shared.file !== info.file) {
      await shared.page?.context().close();
      shared.page = await (await browser.newContext()).newPage();
      shared.file = info.file;
    }
    await use(shared.page!);
  },
});

/** Drops files on the window as a person would. */
export async function drop(page: Page, files: { name: string; bytes: Uint8Array }[]) {
  const list = files.map((f) => ({
    name: f.name,
    base64: Buffer.from(f.bytes).toString('base64'),
  }));
  const transfer = await page.evaluateHandle((items) => {
    const data = new DataTransfer();
    for (const { name, base64 } of items) {
      const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
      data.items.add(new File([bytes], name));
    }
    return data;
  }, list);
  await page.dispatchEvent('body', 'drop', { dataTransfer: transfer });
}

export const week: { jobs: { id: string; title: string }[] } = JSON.parse(
  readFileSync('demo/lantern-week/week.json', 'utf8'),
);

/** Opens one job of the week, as it comes; alone on the shelf, or beside what was there. */
export async function openDemo(page: Page, title: string, { further = false } = {}) {
  const { id } = week.jobs.find((j) => j.title === title)!;
  const address = `/?demo=${id.replace(/^demo-/, '')}`;
  await (further ? within : openAt)(page, address);
  await page.waitForURL(`**/job/${id}/**`);
  await settled(page);
}

/** Goes to an address of the application, with nothing on the shelf. */
export async function openAt(page: Page, address: string) {
  if (page.url() === 'about:blank') return void (await page.goto(address));
  await within(page, '/recipes');
  await page.getByRole('heading', { name: 'Recipes' }).waitFor();
  await emptyShelf(page);
  await within(page, address);
}

/** Goes to an address as the browser’s own arrows do: nothing is loaded anew. */
export const within = (page: Page, address: string): Promise<void> =>
  page.evaluate((to) => {
    const before = history.state as { position?: number } | null;
    // What the router keeps of each place.
    const state = { ...before, current: to, position: (before?.position ?? 0) + 1 };
    history.pushState(state, '', to);
    dispatchEvent(new PopStateEvent('popstate', { state }));
  }, address);

/** No job, target or recipe is kept any more; settings are. */
const emptyShelf = (page: Page) =>
  page.evaluate(
    () =>
      new Promise<void>((done, failed) => {
        const opening = indexedDB.open('wary-quill');
        opening.onerror = () => failed(opening.error);
        opening.onsuccess = () => {
          const base = opening.result;
          const kept = [...base.objectStoreNames].filter((name) => name !== 'settings');
          const emptying = base.transaction(kept, 'readwrite');
          for (const name of kept) emptying.objectStore(name).clear();
          emptying.oncomplete = () => (base.close(), done());
          emptying.onerror = () => failed(emptying.error);
        };
      }),
  );

/** The findings are on the screen, what each mend would do is worked out, and all is saved. */
export async function settled(page: Page) {
  // Waited for within the page: an expectation would describe the whole page at each try that fails.
  await page.locator('.docket .tally').waitFor({ timeout: 60_000 });
  await page.locator('.job[data-idle="true"]').waitFor({ timeout: 60_000 });
}

/** Says in the docket what the open job is for. */
export async function isFor(page: Page, target: string) {
  await page.locator('.docket .target').click();
  await page.locator('.n-base-select-option').getByText(target, { exact: true }).click();
  await settled(page);
}

/** Opens what is folded to one line. */
export const unfold = (page: Page, title: string) =>
  page.locator('details.folded:not([open]) > summary').filter({ hasText: title }).click();

/** The seats of a target whose files have places too. */
export async function seatDesk(page: Page) {
  await stage(page, 'Seating').click();
  await page.getByRole('tab', { name: /^Parts and seats/ }).click();
}

/** What is set up by and by is there, all of it. */
export const stands = (page: Page, selector: string) =>
  page.locator(`${selector}[aria-busy="false"]`).waitFor();

/** How often the screen was made anew from the plan. */
export const revision = async (page: Page): Promise<number> =>
  Number(await page.locator('.job').getAttribute('data-revision'));

export const note = (page: Page, code: string) => page.locator(`[data-code="${code}"]`);
export const stops = (page: Page) => page.locator('.docket .tally');
export const stage = (page: Page, name: string) =>
  page
    .getByRole('navigation', { name: 'Stages' })
    .getByRole('link', { name: new RegExp(`^${name}`) });

/** What the steps of the plan say, and back to a stage. */
export async function planSays(page: Page, back: string): Promise<string[]> {
  await stage(page, 'Proof').click();
  await page.getByRole('tab', { name: /Plan/ }).click();
  await stands(page, '.plan');
  const says = await page.locator('.steps .says').allTextContents();
  await stage(page, back).click();
  return says;
}

/** Everything is mended, by the likeliest candidate where one is asked for. */
export async function mendEverything(page: Page) {
  if (!(await stops(page).textContent())!.includes('stop')) return;
  await stage(page, 'Proof').click();
  const more = page.getByRole('button', { name: 'Mend more…' });
  // Where no mend is left for what stands, there is nothing to press.
  await settled(page);
  if (!(await more.isVisible())) return;
  await more.click();
  await page.getByRole('checkbox', { name: /take the likeliest candidate/ }).check();
  const all = page.getByRole('button', { name: 'Everything, dropping what cannot stay' });
  await expect(all).toBeEnabled({ timeout: 30_000 });
  await all.click();
  await settled(page);
}

export async function bytesOf(download: Download): Promise<Uint8Array> {
  return new Uint8Array(readFileSync((await download.path())!));
}

/** What is kept under a key of the settings; null where nothing is. */
export const kept = (page: Page, key: string): Promise<unknown> =>
  page.evaluate(
    (asked) =>
      new Promise<unknown>((done, failed) => {
        const opening = indexedDB.open('wary-quill');
        opening.onerror = () => failed(opening.error);
        opening.onsuccess = () => {
          const base = opening.result;
          const get = base.transaction('settings').objectStore('settings').get(asked);
          get.onsuccess = () => {
            base.close();
            done((get.result as { value: unknown } | undefined)?.value ?? null);
          };
        };
      }),
    key,
  );
