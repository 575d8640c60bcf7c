import { expect } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { alone, drop, note, openAt, openDemo, settled, stage, stands, test, week } from './desk';
import { smf, Track } from '../demo/song';

test('the margin: filters hide and give way; the table lists what a note names', async ({
  page,
}) => {
  await openDemo(page, 'Salt bell round');
  await stage(page, 'Proof').click();
  const notes = page.locator('[data-finding]');
  await stands(page, '.margin .list');
  const all = await notes.count();
  await page.locator('.filters .n-select').first().click();
  await page.getByText('Cautions', { exact: true }).click();
  await expect(notes).toHaveCount(2);
  expect(all).toBeGreaterThan(10);
  // What is walked to and hidden by a filter brings all back.
  await page.locator('body').click({ position: { x: 330, y: 20 } });
  await page.keyboard.press('n');
  await expect(notes).toHaveCount(all);
  await note(page, 'same-key-soon').click({ position: { x: 8, y: 30 } });
  await page.getByRole('tab', { name: 'Table' }).click();
  await expect(page.locator('.said')).toContainText('chosen notes');
  const rows = page.getByRole('grid', { name: 'Notes' }).locator('.row');
  await rows.first().click();
  await expect(page.locator('.said')).toHaveText(/^\s*1 chosen note$/);
});

test('timing by hand: a rest goes and comes, a step is typed; the receipt of a second handover', async ({
  page,
}) => {
  await openDemo(page, 'Turn of the tide');
  await stage(page, 'Proof').click();
  await note(page, 'rest-owed').getByRole('button', { name: 'Put back 3 bars of rest' }).click();
  await expect(note(page, 'rest-owed')).toHaveCount(0);
  await stage(page, 'Timing').click();
  const facts = page.locator('.side .facts');
  await expect(facts).toContainText('4.1');
  await page.getByRole('button', { name: 'Take the 3 bars of rest away' }).click();
  await expect(facts).toContainText('1.1, 0:00.000');
  await page.keyboard.press('Control+z');
  await expect(facts).toContainText('4.1');
  await page.locator('.side .n-select').first().click();
  await page.getByText('Shift', { exact: true }).first().click();
  await settled(page);

  // Ctrl+Enter asks where it can be seen, and the next one is number 2.
  await page.locator('body').click({ position: { x: 330, y: 20 } });
  await page.keyboard.press('Control+Enter');
  const waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Hand over anyway' }).click();
  expect((await waiting).suggestedFilename()).toMatch(/-1\.zip$/);
  // The key counts again when the first one is written down.
  await expect(page.locator('.side')).toContainText('Handover 1');
  // They were named once: it is not asked again.
  const again = page.waitForEvent('download');
  await page.keyboard.press('Control+Enter');
  expect((await again).suggestedFilename()).toMatch(/-2\.zip$/);
  await expect(page.locator('.side')).toContainText('Handover 2');
});

test('format 2: the other sequence is chosen and judged', async ({ page }) => {
  await openAt(page, '/');
  await expect(page.getByRole('heading', { name: 'Jobs' })).toBeVisible();
  const verse = (notes: number) => {
    const track = new Track(`Verse of ${notes}`).tempo(0, 100);
    for (let i = 0; i < notes; i++) track.note(1, i * 480, 240, 62, 90);
    return track;
  };
  await drop(page, [{ name: 'verses.mid', bytes: smf(2, 480, [verse(3), verse(5)]) }]);
  await settled(page);
  await stage(page, 'Intake').click();
  await expect(page.locator('.left')).toContainText('ch 1 · 3');
  await page.locator('.side .n-select').last().click();
  await page.getByText(/^2: Verse of 5/).click();
  await settled(page);
  await expect(page.locator('.left')).toContainText('ch 1 · 5');
  await page.keyboard.press('Control+z');
  await settled(page);
  await expect(page.locator('.left')).toContainText('ch 1 · 3');
});

alone(
  'a target file is taken in, used, and removed; its job says what became of it',
  async ({ page }) => {
    const built = JSON.parse(readFileSync('src/core/target/built-in/bell-loft.json', 'utf8'));
    const own = { ...built, id: 'harbour-bells', name: 'Harbour bells' };
    await openAt(page, '/targets');
    const choosing = page.waitForEvent('filechooser');
    await page.getByRole('button', { name: 'Take in a target file' }).click();
    await (
      await choosing
    ).setFiles([
      {
        name: 'harbour.json',
        mimeType: 'application/json',
        buffer: Buffer.from(JSON.stringify(own)),
      },
      { name: 'spoilt.json', mimeType: 'application/json', buffer: Buffer.from('{"id": "x"') },
    ]);
    await expect(page.getByRole('link', { name: /Harbour bells/ })).toBeVisible();
    await expect(page.getByText(/spoilt\.json/)).toBeVisible();
    await page.getByRole('link', { name: /Harbour bells/ }).click();
    await page.getByRole('button', { name: 'Remove' }).click();
    await page.getByRole('button', { name: 'Remove the target' }).click();
    await expect(page.getByRole('link', { name: /Harbour bells/ })).toHaveCount(0);
  },
);

alone(
  'a database that cannot be written says so where jobs are made, and loses nothing',
  async ({ page }) => {
    await page.addInitScript(() => {
      const put = IDBObjectStore.prototype.put;
      IDBObjectStore.prototype.put = function (...args: [unknown]) {
        if (this.name === 'sources') throw new DOMException('full', 'QuotaExceededError');
        return put.apply(this, args);
      };
    });
    await page.goto('/');
    await drop(page, [
      { name: 'song.mid', bytes: smf(1, 480, [new Track('A').note(1, 0, 240, 60, 90)]) },
    ]);
    await expect(page.getByText(/song\.mid: .*(room|full|stored)/i)).toBeVisible();
    await expect(page.getByRole('heading', { name: 'Nothing is on the desk yet' })).toBeVisible();
  },
);

alone(
  'the list of jobs: found, sorted, with a picture of each before it was opened',
  async ({ page }) => {
    await openAt(page, '/?demo=1');
    await expect(page.getByRole('link', { name: 'Torn page' })).toBeVisible({ timeout: 60_000 });
    const rows = page.locator('.list tbody tr');
    // The jobs of the week come one by one: whichever of them is there says nothing of the others.
    await expect(rows).toHaveCount(week.jobs.length, { timeout: 30_000 });
    await stands(page, '.list');
    await expect(page.locator('.list .picture')).toHaveCount(week.jobs.length, { timeout: 60_000 });
    await expect(rows.first()).toContainText('7 stops');
    await page.getByLabel('Find a job').fill('marsh duel');
    await expect(rows).toHaveCount(1);
    await expect(rows).toContainText('Ebb and flood');
    await page.getByLabel('Find a job').fill('nothing of that name');
    await expect(page.getByText('No job has')).toBeVisible();
    await page.getByLabel('Find a job').fill('');
    await page.locator('.n-select.order').click();
    await page.getByText('By title', { exact: true }).click();
    await stands(page, '.list');
    const titles = await rows.locator('th').allTextContents();
    expect(titles).toEqual(titles.toSorted((a, b) => a.localeCompare(b)));
  },
);

alone(
  'a sound bank of one’s own: one that is spoilt is refused, one that is read is kept',
  async ({ page }) => {
    await openDemo(page, 'Turn of the tide');
    const choose = async (name: string, buffer: Buffer) => {
      const asked = page.waitForEvent('filechooser');
      await page.getByRole('button', { name: 'Use a bank of your own' }).click();
      await (await asked).setFiles({ name, mimeType: 'application/octet-stream', buffer });
    };
    await page.getByRole('button', { name: 'Sounds', exact: true }).click();
    const dialog = page.getByRole('dialog', { name: 'Sounds' });
    await choose('spoilt.sf2', Buffer.from('RIFF0000sfbkLIST'));
    await expect(dialog.getByRole('alert')).toContainText('spoilt.sf2: it is no sound bank');
    await expect(dialog).toContainText('sounds that ship');
    await choose('marsh.sf2', readFileSync('public/sounds.sf2'));
    await expect(dialog).toContainText('You hear marsh.sf2');
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Play', exact: true }).click();
    await expect(page.getByTestId('clock')).not.toHaveText('0:00.000');
    await page.getByRole('button', { name: 'Stop', exact: true }).click();
    await settled(page);
    await page.reload();
    await settled(page);
    await page.getByRole('button', { name: 'Sounds', exact: true }).click();
    await expect(dialog).toContainText('You hear marsh.sf2');
    // It is this job’s own: another one has the sounds that ship, until it is asked for in every job.
    await openDemo(page, 'Salt bell round', { further: true });
    await page.getByRole('button', { name: 'Sounds', exact: true }).click();
    await expect(dialog).toContainText('sounds that ship');
    await dialog.getByText('marsh.sf2', { exact: true }).click();
    await expect(dialog).toContainText('You hear marsh.sf2');
    await dialog.getByRole('button', { name: 'marsh.sf2 in every job' }).click();
    await expect(dialog).toContainText('in all other jobs');
    await dialog.getByText('Those that ship', { exact: true }).click();
    await expect(dialog).toContainText('sounds that ship');
    await dialog.getByRole('button', { name: 'Remove marsh.sf2 from this browser' }).click();
    await expect(dialog.getByText('marsh.sf2')).toHaveCount(0);
  },
);

test('a truncated file is read as far as it goes, and says so', async ({ page }) => {
  await openDemo(page, 'Torn page');
  await expect(note(page, 'damage').first()).toBeVisible();
  await stage(page, 'Intake').click();
  await expect(page.locator('.side')).toContainText('The file ends in the middle of this chunk');
});
