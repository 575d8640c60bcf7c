import { expect, type Page } from '@playwright/test';
import { recordingOf } from '../demo/recordings';
import { saltBellRound, turnOfTheTide } from '../demo/tunes';
import { alone, drop, openAt, settled, stage, test, within } from './desk';

/** A folder of the browser itself stands in for a card. */
async function withCard(page: Page) {
  await page.addInitScript(() => {
    Object.assign(window, {
      showDirectoryPicker: async () =>
        (await navigator.storage.getDirectory()).getDirectoryHandle('card', { create: true }),
    });
  });
}
/** What lies on it, by path. */
const onCard = (page: Page) =>
  page.evaluate(async () => {
    const out: string[] = [];
    const walk = async (folder: FileSystemDirectoryHandle, within: string) => {
      for await (const entry of folder.values()) {
        const path = within + entry.name;
        if (entry.kind === 'directory') await walk(entry as FileSystemDirectoryHandle, `${path}/`);
        else out.push(path);
      }
    };
    const root = await navigator.storage.getDirectory();
    await walk(await root.getDirectoryHandle('card', { create: true }), '');
    return out.sort();
  });
const known = (page: Page) =>
  expect(page.getByRole('table')).toHaveAttribute('aria-busy', 'false', { timeout: 30_000 });
const openSet = async (page: Page, name: string) => {
  await page.getByRole('link', { name: 'Sets' }).click();
  await page.getByRole('link', { name }).click();
  await expect(page.getByRole('link', { name: 'Turn of the tide' }).first()).toBeVisible();
  await known(page);
};
const mendEvery = async (page: Page) => {
  await page.getByRole('button', { name: 'Mend every song' }).click();
  await page.getByRole('checkbox', { name: /take the likeliest/ }).check();
  await page.getByRole('button', { name: 'Drop what cannot stay' }).click();
  await expect(page.getByText(/songs? mended; (no stop|\d+ stops?) remains?/)).toBeVisible({
    timeout: 60_000,
  });
  await page.keyboard.press('Escape');
  await known(page);
};

test('a set: mended, handed over into a folder, and then only what changed', async ({ page }) => {
  await withCard(page);
  await page.goto('/?demo=1');
  await openSet(page, 'Rail, opening night');
  const margin = page.getByRole('complementary', { name: 'Findings of the set' });
  await expect(margin).toContainText('one name');
  await margin.getByRole('button', { name: 'Give each target a folder' }).first().click();
  await expect(margin).not.toContainText('one name');
  await mendEvery(page);

  await page.getByRole('button', { name: 'Hand the set over' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: 'Choose the folder' }).click();
  await expect(dialog.getByText('No set was handed over into card yet.')).toBeVisible({
    timeout: 60_000,
  });
  await dialog.getByRole('textbox').fill('Boathouse, Friday');
  await dialog.getByRole('button', { name: /^Write 13 files/ }).click();
  await expect(dialog.getByText(/13 files written .* on Boathouse, Friday/)).toBeVisible();
  const first = await onCard(page);
  expect(first).toContain('quill-manifest.json');
  expect(first).toContain('lantern-rail/turn-of-the-tide.mid');
  expect(first).toContain('bell-loft/TURNOFTH.mid');

  // Again: nothing. Then one song is put aside, and somebody brings a file of their own.
  await dialog.getByRole('button', { name: /^Boathouse, Friday, last written/ }).click();
  await expect(dialog.getByText(/This is “Boathouse, Friday”/)).toBeVisible({ timeout: 60_000 });
  await dialog.getByRole('button', { name: 'Rehearse the card' }).click();
  const rehearsed = dialog.getByRole('list', { name: 'The card, rehearsed' });
  await expect(rehearsed.getByRole('listitem')).toHaveCount(8);
  await expect(rehearsed).not.toContainText('would not load');
  await dialog.getByRole('button', { name: 'Nothing to write' }).click();
  await expect(dialog.getByText(/holds the set already: nothing was written/)).toBeVisible();
  await page.keyboard.press('Escape');
  await page
    .getByRole('row', { name: /Torn page/ })
    .getByRole('button', { name: 'Aside' })
    .click();
  await page.evaluate(async () => {
    const root = await navigator.storage.getDirectory();
    const card = await root.getDirectoryHandle('card');
    const stream = await (await card.getFileHandle('mine.txt', { create: true })).createWritable();
    await stream.write('mine');
    await stream.close();
  });
  await page.getByRole('button', { name: 'Hand the set over' }).click();
  await dialog.getByRole('button', { name: /^Boathouse, Friday, last written/ }).click();
  await expect(dialog.getByRole('listitem').filter({ hasText: 'Torn page' })).toContainText(
    'put aside',
    { timeout: 60_000 },
  );
  await expect(dialog).toContainText('mine.txt');
  await dialog.getByRole('checkbox', { name: /not handed over any more/ }).check();
  await dialog.getByRole('button', { name: /^Write 0 files/ }).click();
  await expect(dialog.getByText(/0 files written .* 2 removed/)).toBeVisible();
  const last = await onCard(page);
  expect(last).toEqual([...first.filter((p) => !p.includes('torn-page')), 'mine.txt'].sort());

  // Somebody put another take under the name of a song: it is told, and opened beside ours.
  const [theirs, other] = last.filter((p) => p.endsWith('.mid'));
  await page.evaluate(
    async ([to, from]) => {
      const root = await navigator.storage.getDirectory();
      const fileAt = async (path: string) => {
        let at = await root.getDirectoryHandle('card');
        const names = path.split('/');
        for (const name of names.slice(0, -1)) at = await at.getDirectoryHandle(name);
        return at.getFileHandle(names.at(-1)!);
      };
      const bytes = await (await (await fileAt(from!)).getFile()).arrayBuffer();
      const stream = await (await fileAt(to!)).createWritable();
      await stream.write(bytes);
      await stream.close();
    },
    [theirs, other],
  );
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Hand the set over' }).click();
  await dialog.getByRole('button', { name: /^Boathouse, Friday, last written/ }).click();
  const changed = dialog.getByRole('listitem').filter({ hasText: 'was changed on the card' });
  await expect(changed).toHaveCount(1, { timeout: 60_000 });
  await changed.getByRole('button', { name: 'Open theirs as a job' }).click();
  await page.waitForURL('**/job/**');
  await settled(page);
  await expect(page.locator('.docket')).toContainText(theirs!.split('/').at(-1)!);
});

test('files dropped together are a set; newer exports find their songs', async ({ page }) => {
  await page.goto('/');
  await drop(page, [
    { name: 'tide.mid', bytes: turnOfTheTide() },
    { name: 'bells.mid', bytes: saltBellRound() },
    { name: 'bells.wav', bytes: recordingOf(saltBellRound(), {}) },
  ]);
  await page.getByRole('button', { name: 'A set, a song each' }).click();
  await expect(page.getByRole('heading', { name: 'tide and others' })).toBeVisible();
  await known(page);
  // The recording lies beside its song, and nobody was led there.
  const bells = page.getByRole('row', { name: /bells/ });
  await expect(bells.getByRole('img', { name: 'with bells.wav' })).toBeVisible();
  await drop(page, [{ name: 'take 4.mid', bytes: turnOfTheTide() }]);
  const files = page.getByRole('region', { name: 'Files for this set' });
  await expect(files.getByRole('row', { name: /take 4.mid/ })).toContainText('its music');
  await expect(files.getByRole('row', { name: /take 4.mid/ })).toContainText(
    'the song has this file already',
  );
  await files.getByRole('button', { name: 'Close the list' }).click();
  // A set of files is told once what they are for.
  await page.locator('.unsaid .n-base-selection').click();
  await page.locator('.n-base-select-option').getByText('Bell loft striker').click();
  await expect(page.getByRole('row', { name: /bells/ })).toContainText('Bell loft striker');
  await expect(page.getByRole('row', { name: /bells/ })).toContainText(/stop/);
  // Order by keys, undone like anything else.
  await page.getByRole('link', { name: 'bells' }).focus();
  await page.keyboard.press('Alt+ArrowUp');
  await expect(page.getByRole('row').nth(1)).toContainText('bells');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('row').nth(1)).toContainText('tide');
});

test('a name that is one long word widens no screen', async ({ page }) => {
  const word = 'Salzwiesenlaternenwochendampferanlegestellenbeleuchtung'.repeat(3);
  await openAt(page, '/');
  await drop(page, [
    { name: `${word}1.mid`, bytes: turnOfTheTide() },
    { name: `${word}2.mid`, bytes: saltBellRound() },
  ]);
  await page.getByRole('button', { name: 'A set, a song each' }).click();
  await known(page);
  await page.locator('.unsaid .n-base-selection').click();
  await page.locator('.n-base-select-option').getByText('Stomp crate').click();
  await known(page);
  /** What is wider than what it stands in, and scrolls sideways or pushes the page. */
  const wide = () =>
    page.evaluate(() =>
      [document.documentElement, ...document.querySelectorAll('main *')]
        .filter((e) => e.scrollWidth > e.clientWidth + 2 && !e.querySelector('canvas'))
        .filter(
          (e) =>
            e === document.documentElement || /auto|scroll/.test(getComputedStyle(e).overflowX),
        )
        .filter((e) => !e.classList.contains('whole'))
        .map((e) => `${e.tagName} ${e.className}: ${e.scrollWidth} of ${e.clientWidth}`),
    );
  expect(await wide(), 'the set').toEqual([]);
  for (const path of ['/sets', '/', '/fit']) {
    await within(page, path);
    await expect(page.getByText(word.slice(0, 20)).first()).toBeVisible();
    expect(await wide(), path).toEqual([]);
  }
  await within(page, '/');
  await page.getByRole('link', { name: `${word}1` }).click();
  await settled(page);
  for (const name of ['Intake', 'Seating', 'Timing', 'Proof', 'Rehearsal', 'Handover']) {
    await stage(page, name).click();
    await page
      .getByRole('complementary', { name: `${name} tools` })
      .locator('> *')
      .first()
      .waitFor();
    expect(await wide(), name).toEqual([]);
  }
});

alone(
  'a song is opened from its set, for its target, and the set is gone back to',
  async ({ page }) => {
    await page.goto('/?demo=1');
    await openSet(page, 'Rail, opening night');
    await page.getByRole('link', { name: 'Turn of the tide' }).last().click();
    const strip = page.getByRole('navigation', { name: 'Set Rail, opening night' });
    await expect(strip).toContainText('song 8 of 8');
    await expect(page.locator('.docket')).toContainText('Bell loft striker');
    await stage(page, 'Rehearsal').click();
    await strip.getByRole('button', { name: 'Song before' }).click();
    await expect(page.getByRole('heading', { name: 'Torn page' })).toBeVisible();
    await expect(strip).toContainText('song 7 of 8');
    await strip.getByRole('link', { name: 'Rail, opening night' }).click();
    await expect(page.getByRole('heading', { name: 'Rail, opening night' })).toBeVisible();
  },
);

alone(
  'who goes to another screen before the page is ready gets the week anyway',
  async ({ page }) => {
    // As soon as the link is there it is clicked: nothing of what the page awaits is done by then.
    await page.addInitScript(() => {
      const link = () => document.querySelector<HTMLElement>('a[href="/sets"]');
      const seen = new MutationObserver(() => {
        if (!link()) return;
        seen.disconnect();
        link()!.click();
      });
      seen.observe(document, { childList: true, subtree: true });
    });
    await page.goto('/?demo=1');
    await expect(page.getByRole('heading', { name: 'Sets' })).toBeVisible();
    await expect(page.getByRole('link', { name: 'Rail, opening night' })).toBeVisible();
  },
);
