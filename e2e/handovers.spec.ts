import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import { drop, mendEverything, openDemo, settled, stage, stops, test, unfold } from './desk';
import { waveBytes } from '../src/core/sound/wave';

/**
 * Jobs of the week with deliveries of kinds that no other test and no walk hands over, and the endings of their
 * files. All are handed over from the disk in `demo/demo.test.ts`, and `plan/laws.test.ts` rehearses all targets.
 */
const WEEK: readonly (readonly [string, string, readonly RegExp[]])[] = [
  ['Tide table', 'Tide voices', [/\.mid$/, /\.chain\.json$/, /-link\.wav$/]],
  ['Marsh ambience', 'Cue ledger', [/\.strands\.json$/]],
];

async function handOver(page: Page): Promise<Record<string, Uint8Array>> {
  await stage(page, 'Handover').click();
  const download = page.waitForEvent('download');
  await page.locator('.docket').getByRole('button', { name: 'Hand over', exact: true }).click();
  const pack = await download;
  return unzipSync(new Uint8Array(readFileSync(await pack.path())));
}

test('a job for each kind of delivery: mended, handed over, and played by its stand-in', async ({
  page,
}) => {
  test.setTimeout(120_000);
  for (const [title, target, endings] of WEEK) {
    await openDemo(page, title);
    await expect(page.locator('.docket')).toContainText(target);
    await mendEverything(page);
    const files = Object.keys(await handOver(page));
    for (const ending of endings)
      expect(
        files.some((f) => ending.test(f)),
        `${title}: ${ending}`,
      ).toBe(true);
    await expect(page.getByTestId('rehearsed'), title).toContainText('plays them as meant');
    await expect(page.getByTestId('handover-files')).toContainText('loaded');
  }
});

test('handed over with stops open: what the device drops is named and leads to its note', async ({
  page,
}) => {
  await openDemo(page, 'Paper march');
  await stage(page, 'Handover').click();
  await page.locator('.docket').getByRole('button', { name: 'Hand over', exact: true }).click();
  await page.getByRole('button', { name: 'Hand over anyway' }).click();
  await expect(page.getByTestId('rehearsed')).toContainText('does not play all of this');
  await expect(page.getByTestId('dropped')).toContainText('26 notes silent: there is no such pipe');
  const one = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save paper-march-holes.csv' }).click();
  const list = readFileSync(await (await one).path(), 'utf8');
  expect(list.startsWith('row,seconds,front,rear\r\n')).toBe(true);
  await page.getByRole('button', { name: 'Look', exact: true }).click();
  const sheet = page.getByRole('img', { name: /The strip of/ });
  await expect(sheet).toBeVisible();
  expect(await sheet.evaluate((i: HTMLImageElement) => i.naturalWidth)).toBeGreaterThan(100);
  const axe = await new AxeBuilder({ page }).analyze();
  expect(axe.violations.map((v) => v.id)).toEqual([]);
  await page.keyboard.press('Escape');
  await page
    .getByTestId('dropped')
    .getByRole('button', { name: 'Notes on keys that do not exist' })
    .click();
  await expect(page).toHaveURL(/\/proof$/);
  await expect(page.locator('.note.open, .open')).not.toHaveCount(0);
});

test('a chart is brought in, and goes out with the same bytes', async ({ page }) => {
  await openDemo(page, 'Ebb and flood');
  await mendEverything(page);
  const files = await handOver(page);
  const [name, bytes] = Object.entries(files).find(([f]) => f.endsWith('.chart.json'))!;
  await page.getByRole('link', { name: 'Jobs', exact: true }).click();
  await drop(page, [{ name: `again ${name}`, bytes }]);
  await settled(page);
  await expect(page.locator('.docket')).toContainText('Marsh duel');
  await expect(stops(page)).not.toContainText('stop');
  const again = await handOver(page);
  const other = Object.entries(again).find(([f]) => f.endsWith('.chart.json'))!;
  expect(Buffer.from(other[1]).equals(Buffer.from(bytes))).toBe(true);
});

test('a companion sound: brought in, held against the score, delivered, taken away', async ({
  page,
}) => {
  await openDemo(page, 'Horns at dusk');
  await stage(page, 'Intake').click();
  // It came with a recording; another one takes its place.
  await unfold(page, 'Recording');
  await page.getByRole('button', { name: 'Take it away' }).click();
  const sound = waveBytes(new Int16Array(8000 * 5), 8000);
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Bring in a recording…' }).click();
  await (
    await chooser
  ).setFiles({
    name: 'pier.wav',
    mimeType: 'audio/wav',
    buffer: Buffer.from(sound),
  });
  await expect(page.getByText('pier.wav')).toBeVisible();
  await settled(page);
  await stage(page, 'Proof').click();
  await expect(page.locator('.margin')).toContainText(/Score [\d.,]+ s, sound [\d.,]+ s/);
  await stage(page, 'Handover').click();
  await page.locator('.docket').getByRole('button', { name: 'Hand over', exact: true }).click();
  await page.getByRole('button', { name: 'Hand over anyway' }).click();
  await expect(page.getByTestId('handover-files')).toContainText('pier.wav');
  await stage(page, 'Intake').click();
  await unfold(page, 'Recording');
  await page.getByRole('button', { name: 'Take it away' }).click();
  await expect(page.getByRole('button', { name: 'Bring in a recording…' })).toBeVisible();
});

test('a chain is edited as links', async ({ page }) => {
  await openDemo(page, 'Tide table');
  await stage(page, 'Seating').click();
  await page.getByRole('button', { name: 'Add a link' }).click();
  await settled(page);
  await page.getByLabel('Shift, semitones').fill('-3');
  await page.getByLabel('Shift, semitones').press('Tab');
  await settled(page);
  await expect(page.getByRole('button', { name: /Pattern A, once, shifted by -3/ })).toBeVisible();
  await page.getByRole('button', { name: 'Move earlier' }).click();
  await settled(page);
  await expect(page.locator('.chain .link-card').first()).toContainText('−3');
  await page.getByRole('button', { name: 'Take it out' }).click();
  await settled(page);
  await expect(page.locator('.chain .link-card')).toHaveCount(1);
});

test('captions stand beside their advances, and a pasted list takes their place', async ({
  page,
}) => {
  await openDemo(page, 'Lantern song');
  await stage(page, 'Seating').click();
  const list = page.locator('.captions');
  await expect(list).toContainText('0 captions');
  await page.getByRole('button', { name: 'Paste a list…' }).click();
  await page.getByLabel('Captions, one a line').fill('Low water\nSalt and rope\n\nHome');
  await page.getByRole('button', { name: 'Use 3 lines' }).click();
  await settled(page);
  await expect(list).toContainText('3 captions');
  await expect(list.locator('.row').nth(1)).toContainText('Salt and rope');
  await expect(list.locator('.row').nth(3)).toContainText('no caption');
});
