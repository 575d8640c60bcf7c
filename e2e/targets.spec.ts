import { readFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import { alone, bytesOf, drop, note, openAt, openDemo, settled, stands, stops, test } from './desk';

const seeded = async (page: import('@playwright/test').Page) => {
  await page.goto('/?demo=1');
  await expect(page.getByRole('link', { name: 'Torn page' })).toBeVisible({ timeout: 30_000 });
};

alone(
  'a target is copied, changed in its sentences and as text, and a job follows each number',
  async ({ page }) => {
    await seeded(page);
    await page
      .getByRole('navigation', { name: 'Main' })
      .getByRole('link', { name: 'Targets' })
      .click();
    await expect(page.getByRole('heading', { name: 'Targets' })).toBeVisible();
    await expect(page.locator('.card')).toHaveCount(20);
    await page.getByRole('link', { name: 'Bell loft striker' }).click();
    await expect(page.getByRole('img', { name: /^Keys: 23 keys/ })).toBeVisible();
    await page.getByRole('button', { name: 'Copy', exact: true }).click();
    await expect(
      page.getByRole('heading', { name: /^Edit Bell loft striker, copy/ }),
    ).toBeVisible();

    // A job is held against it; a number changes what is found.
    await page.locator('.beside .n-select').click();
    await page.getByText('Salt bell round', { exact: true }).click();
    const found = page.locator('.findings li');
    await expect(found.filter({ hasText: 'Key repeated too soon' })).toHaveCount(1);
    const apart = page.getByRole('textbox', {
      name: 'The same key comes again after … ms or later',
    });
    await expect(apart).toHaveValue('180');
    await apart.fill('0');
    await apart.press('Tab');
    await expect(found.filter({ hasText: 'Key repeated too soon' })).toHaveCount(0);

    // As text: a wrong key is marked with the nearest known one and nothing can be saved.
    await page.getByRole('button', { name: 'Text beside it' }).click();
    const text = page.getByRole('textbox', { name: 'Target as JSON' });
    await expect(text).toContainText('"sameKeyApartMs": 0');
    await stands(page, '.json');
    await text.click();
    await page.keyboard.press('Control+Home');
    await page.keyboard.press('End');
    await page.keyboard.press('Enter');
    await page.keyboard.type('"temppo": { }, ');
    await expect(page.getByRole('alert')).toContainText('The nearest known key is "tempo"');
    await expect(page.getByRole('button', { name: 'Save', exact: true })).toBeDisabled();
    await expect(page.locator('.cm-lintRange-error').first()).toBeVisible();
    await page.keyboard.press('Control+z');
    for (let i = 0; i < 6 && (await page.getByRole('alert').count()) > 0; i++)
      await page.keyboard.press('Control+z');
    await expect(page.getByRole('alert')).toHaveCount(0);
    // Text that is no JSON yet stays as it was typed; the sentences wait for it.
    await page.keyboard.type('{');
    await expect(page.getByText('is not JSON yet')).toBeVisible();
    await expect(page.getByRole('button', { name: 'Save', exact: true })).toBeDisabled();
    await page.getByRole('button', { name: /^Throw the text away/ }).click();
    await expect(apart).toHaveValue('0');

    // No room: it is said, the job is not given what was not kept, and nothing is lost.
    await page.evaluate(() => {
      const put = IDBObjectStore.prototype.put;
      Object.assign(window, { mend: () => (IDBObjectStore.prototype.put = put) });
      IDBObjectStore.prototype.put = () => {
        throw new DOMException('full', 'QuotaExceededError');
      };
    });
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.getByRole('alert')).toContainText('The browser has no room left');
    await expect(page.getByText(/^Saved as/)).toHaveCount(0);
    await page.evaluate(() => (window as unknown as { mend: () => void }).mend());
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.getByText('Saved as 1.0.1.')).toBeVisible();

    // It is on the shelf, in the docket of a job, and comes back as a file.
    await page.goto('/targets/bell-loft-striker-copy');
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Save as a file' }).click(),
    ]);
    const saved = JSON.parse(new TextDecoder().decode(await bytesOf(download))) as {
      version: string;
      spacing: { sameKeyApartMs: number };
    };
    expect(saved).toMatchObject({ version: '1.0.1', spacing: { sameKeyApartMs: 0 } });
  },
);

test('a target is learnt from a known-good file, its numbers marked', async ({ page }) => {
  await openAt(page, '/targets');
  await page.getByRole('button', { name: 'What would accept this file?' }).click();
  const choosing = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Choose files' }).click();
  await (await choosing).setFiles('demo/lantern-week/boat-shed-loop.mid');
  await page.getByRole('button', { name: 'Make the target' }).click();
  await expect(page.getByRole('heading', { name: 'Edit boat-shed-loop' })).toBeVisible();
  await expect(page.getByText('learnt', { exact: true }).first()).toBeVisible();
  const lowest = page.getByRole('textbox', { name: 'Tempos lie between … and' });
  await expect(lowest).toHaveValue('98');
  // What it rests on; a rounder number is one click, and what is right as it is another.
  const tempos = page.locator('.line', { has: lowest });
  await expect(tempos).toContainText('98: seen in the only file; “boat-shed-loop.mid” at 98');
  const voices = page.locator('.line', { hasText: 'notes sound at once' });
  await tempos.getByRole('button', { name: '90?' }).click();
  await expect(lowest).toHaveValue('90');
  await voices.getByRole('button', { name: 'learnt' }).click();
  await expect(voices.getByRole('button', { name: 'learnt' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Saved as')).toBeVisible();
  await page.reload();
  await expect(lowest).toHaveValue('90');
  await expect(voices.getByRole('button', { name: 'learnt' })).toHaveCount(0);
  await expect(tempos).toContainText('“boat-shed-loop.mid” at 98');
});

test('a target of somebody’s own is made by seven questions, held, undone and kept', async ({
  page,
}) => {
  await seeded(page);
  await page.goto('/targets');
  await page.getByRole('button', { name: 'New target' }).click();
  await page.getByRole('textbox', { name: 'Its name' }).fill('Mudflat drums');
  const answer = (name: RegExp) => page.getByRole('main').getByRole('button', { name }).click();
  const next = () => page.getByRole('button', { name: 'Next' }).click();
  await answer(/^A pedal or a drum machine/);
  await next();
  await answer(/^By channel/);
  await next();
  await answer(/^Drums/);
  await next();
  await answer(/^Eight strikes a second/);
  await page.getByRole('button', { name: 'Next' }).click();
  await answer(/^After a bar/);
  await answer(/^60 to 180 BPM/);
  await next();
  // A question may be passed over.
  await page.getByRole('button', { name: 'Pass over' }).click();
  await answer(/^MIDI, format 0/);
  const soFar = page.getByRole('complementary', { name: 'What it says so far' });
  await expect(soFar.getByText('SMF 0')).toBeVisible();
  await expect(soFar.getByText('1 bar of rest first')).toBeVisible();
  await page.getByRole('button', { name: 'Make it', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Edit Mudflat drums' })).toBeVisible();
  await expect(page.locator('.findings li').first()).toBeVisible();

  // A sentence is said, taken back with undo, and kept; a reload shows it again.
  await page.getByRole('button', { name: 'the shortest note' }).click();
  const shortest = page.getByRole('textbox', { name: 'A note lasts … ms or longer' });
  await expect(shortest).toHaveValue('40');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(shortest).toHaveCount(0);
  await expect(page.getByRole('textbox', { name: 'It is called' }).first()).toHaveValue(
    'Mudflat drums',
  );
  await page.getByRole('button', { name: 'Redo' }).click();
  await shortest.press('ArrowUp');
  await expect(shortest).toHaveValue('45');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('Saved as 1.0.1.')).toBeVisible();
  await page.reload();
  await expect(shortest).toHaveValue('45');
});

test('a sing-along gets its captions, a march its rows, each by one mend', async ({ page }) => {
  await openDemo(page, 'Lantern song');
  await note(page, 'captions-none')
    .getByRole('button', { name: /^Make them from the lyrics/ })
    .click();
  await settled(page);
  await expect(note(page, 'captions-none')).toHaveCount(0);
  await openDemo(page, 'Paper march');
  await note(page, 'off-row')
    .getByRole('button', { name: /rows a second/ })
    .first()
    .click();
  await settled(page);
  await expect(note(page, 'off-row')).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await settled(page);
  await expect(note(page, 'off-row')).toHaveCount(1);
});

alone('songs are tried on targets; a cell opens its proof', async ({ page }) => {
  await page.goto('/fit');
  const file = (name: string) => ({ name, bytes: readFileSync(`demo/lantern-week/${name}`) });
  await expect(page.getByRole('heading', { name: 'Fit' })).toBeVisible();
  // The targets of the shelf are chosen.
  await expect(page.locator('.choose .n-tag').first()).toBeAttached();
  await drop(page, [file('paper-march.mid'), file('boat-shed-loop.mid')]);
  const cell = page.getByRole('button', { name: 'paper-march on Strip organ' });
  await expect(cell).toContainText(/keeps every note|kept \d+ %/, { timeout: 60_000 });
  // Nothing became a job until a cell is opened.
  await page.goto('/');
  await expect(page.getByText('Nothing is on the desk yet')).toBeVisible();
  await page.goto('/fit');
  // The targets of the shelf are chosen.
  await expect(page.locator('.choose .n-tag').first()).toBeAttached();
  await drop(page, [file('paper-march.mid')]);
  await expect(cell).toContainText(/keeps every note|kept \d+ %/, { timeout: 60_000 });
  await cell.click();
  await settled(page);
  await expect(page.locator('.docket .target')).toContainText('Strip organ');
  await expect(stops(page)).toContainText('4 stops');
});
