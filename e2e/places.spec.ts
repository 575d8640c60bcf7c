import { expect, type Page } from '@playwright/test';
import { drop, isFor, openAt, openDemo, planSays, settled, stage, test } from './desk';
import { smf, Track } from '../demo/song';

const place = (page: Page, name: string) => page.getByRole('button', { name: `${name}:` });
const barsOf = async (page: Page, name: string) =>
  (await place(page, name).getAttribute('aria-label'))!.split(': ')[1]!;
const BARS = 24;
/** Sweeps bars on the strip of the song. */
async function sweep(page: Page, from: number, to: number) {
  const box = (await page.locator('.song').boundingBox())!;
  const x = (bar: number) => box.x + ((bar - 0.5) / BARS) * box.width;
  await page.mouse.move(x(from), box.y + 30);
  await page.mouse.down();
  await page.mouse.move(x(to), box.y + 30, { steps: 4 });
  await page.mouse.up();
}
async function carry(page: Page, from: string, to: string) {
  const [a, b] = [(await place(page, from).boundingBox())!, (await place(page, to).boundingBox())!];
  await page.mouse.move(a.x + 20, a.y + 10);
  await page.mouse.down();
  await page.mouse.move(b.x + 20, b.y + 10, { steps: 6 });
  await page.mouse.up();
}

test('bars are swept and pressed into places, carried between them, heard in order', async ({
  page,
}) => {
  await openDemo(page, 'Quay stomp');
  await stage(page, 'Seating').click();
  await expect(page.getByText('0 of 43 filled')).toBeVisible();
  await page.getByRole('button', { name: 'Fill 3 places in order' }).click();
  await settled(page);
  expect(await barsOf(page, 'Bed 2')).toBe('bars 9–16, 8 bars');
  // One bar, in hand: what takes it is told, and the next press lays it.
  await sweep(page, 8, 8);
  await expect(page.locator('p.hand')).toContainText('bar 8');
  await expect(page.locator('.cell.would-fits').first()).toBeVisible();
  await place(page, 'Break 1').click();
  await settled(page);
  expect(await barsOf(page, 'Break 1')).toBe('bar 8, 1 bar');
  await page.getByRole('textbox', { name: 'Length of the place in bars' }).fill('0.5');
  await page.keyboard.press('Enter');
  await settled(page);
  expect(await barsOf(page, 'Break 1')).toBe('half of bar 8, half a bar');
  // Two that are filled change places.
  await carry(page, 'Bed 1', 'Bed 3');
  await settled(page);
  expect(await barsOf(page, 'Bed 1')).toBe('bars 17–24, 8 bars');
  expect(await barsOf(page, 'Bed 3')).toBe('bars 1–8, 8 bars');
  await page.keyboard.press('Control+z');
  await settled(page);
  expect(await barsOf(page, 'Bed 1')).toBe('bars 1–8, 8 bars');
  // What is chosen on the sheet is in hand too, by the bars of the song: the sheet shows another place.
  await place(page, 'Bed 2').click();
  await page.getByRole('button', { name: 'Show', exact: true }).click();
  await settled(page);
  await expect(page.locator('.docket .piece')).toContainText('b2.mid');
  await page.getByTitle('Quay stomp: choose its notes').click();
  await expect(page.locator('p.hand')).toContainText('bars 9–16');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  // What does not fit stands there with what it takes.
  await page.getByRole('button', { name: /^First bed bars 1–8/ }).click();
  await place(page, 'Crossing 1 to 2').click();
  await settled(page);
  expect(await barsOf(page, 'Crossing 1 to 2')).toBe('bars 1–8, 8 bars, takes 1 to 2 bars');
  // Emptied, all five; the piece is one file again.
  for (const name of ['Bed 1', 'Bed 2', 'Bed 3', 'Break 1', 'Crossing 1 to 2']) {
    await place(page, name).focus();
    await page.keyboard.press('Delete');
    await settled(page);
  }
  await expect(page.getByText('0 of 43 filled')).toBeVisible();
  expect((await planSays(page, 'Seating')).filter((s) => s.includes('arve'))).toEqual([]);
});

test('by keys alone; each heard alone, all in order, and Escape lets go', async ({ page }) => {
  await openDemo(page, 'Quay stomp');
  await stage(page, 'Seating').click();
  await page.locator('.song').focus();
  await page.keyboard.press('ArrowRight');
  for (let i = 0; i < 3; i++) await page.keyboard.press('Shift+ArrowRight');
  await expect(page.locator('p.hand')).toContainText('bars 1–4');
  await page.keyboard.press('Escape');
  await expect(page.locator('p.hand')).toContainText('0 of 43 filled');
  await page.locator('.song').focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await expect(page.locator('p.hand')).toContainText('bar 2');
  await place(page, 'Count-off').focus();
  await page.keyboard.press('ArrowRight');
  await expect(place(page, 'Bed 1')).toBeFocused();
  await page.keyboard.press('Enter');
  await settled(page);
  expect(await barsOf(page, 'Bed 1')).toBe('bar 2, 1 bar');
  await page.getByRole('button', { name: /^Second bed/ }).click();
  await place(page, 'Bed 2').click();
  await settled(page);
  const docket = page.locator('.docket .piece');
  await page.getByRole('button', { name: 'Hear 2 in order' }).click();
  await expect(page.getByRole('button', { name: 'Stop Bed 1' })).toBeVisible();
  await expect(docket).toContainText('b1.mid');
  // The first is a bar long: the second follows by itself.
  await expect(page.getByRole('button', { name: 'Stop Bed 2' })).toBeVisible({ timeout: 15_000 });
  await expect(docket).toContainText('b2.mid');
  await page.getByRole('button', { name: 'Stop Bed 2' }).click();
  await expect(page.getByRole('button', { name: 'Hear Bed 2 alone' })).toBeVisible();
});

test('several sources are laid as they are', async ({ page }) => {
  await openDemo(page, 'Quay stomp');
  const further = new Track('Fill').tempo(0, 104).meter(0, 4, 4);
  for (let i = 0; i < 4; i++) further.note(10, i * 480, 60, 38, 90);
  await drop(page, [{ name: 'fill.mid', bytes: smf(1, 480, [further], 1920) }]);
  await page.getByRole('button', { name: 'A further source of this job' }).click();
  await settled(page);
  await stage(page, 'Intake').click();
  await page
    .locator('.source')
    .filter({ hasText: 'fill.mid' })
    .locator('.use .n-select')
    .first()
    .click();
  await page.getByText('a file of its own', { exact: true }).last().click();
  await settled(page);
  await stage(page, 'Seating').click();
  await expect(page.locator('.song')).toHaveCount(2);
  await page.getByRole('button', { name: /^fill\.mid/ }).click();
  await place(page, 'Break 2').click();
  await settled(page);
  expect(await barsOf(page, 'Break 2')).toBe('the whole song, 1 bar');
  await expect(page.locator('.docket .piece')).toBeVisible();
});

test('pads and patterns are places too', async ({ page }) => {
  await openDemo(page, 'Tide table');
  await stage(page, 'Seating').click();
  // One song is the first pattern by itself, and stays it when bars are laid elsewhere.
  expect(await barsOf(page, 'Pattern A')).toBe('the whole song, 15.42 bars');
  await page.locator('.song').focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+ArrowRight');
  await place(page, 'Pattern C').click();
  await settled(page);
  expect(await barsOf(page, 'Pattern C')).toBe('bars 1–2, 2 bars');
  expect(await barsOf(page, 'Pattern A')).toBe('bars 1–16, 16 bars');
});

test('a bar of set-up is no place; what finds none is named, and nothing stays in hand', async ({
  page,
}) => {
  const BAR = 4 * 480;
  const drums = new Track('Drums').tempo(0, 100).meter(0, 4, 4).marker(0, 'Setup');
  for (let k = 0; k < 7; k++) {
    drums.marker((1 + 4 * k) * BAR, `Verse ${k + 1}`);
    for (let i = 0; i < 16; i++) drums.note(10, (1 + 4 * k) * BAR + i * 480, 60, 36 + (k % 3), 90);
  }
  await openAt(page, '/');
  await drop(page, [{ name: 'verses.mid', bytes: smf(1, 480, [drums], 29 * BAR) }]);
  await settled(page);
  await isFor(page, 'Stomp crate');
  await stage(page, 'Seating').click();
  await page.getByRole('button', { name: 'Fill 6 places in order' }).click();
  await settled(page);
  expect(await barsOf(page, 'Bed 1')).toBe('bars 2–5, 4 bars');
  await expect(
    page.getByText('1 stretch without a free place of that length: Verse 7 (bars 26–29).'),
  ).toBeVisible();
  await page.getByRole('button', { name: /^Verse 7/ }).click();
  await expect(page.locator('p.hand')).toContainText('in hand');
  await stage(page, 'Proof').click();
  await stage(page, 'Seating').click();
  await expect(page.locator('p.hand')).toContainText('6 of 43 filled');
});
