import { expect, type Page } from '@playwright/test';
import { openDemo, settled, stage, test } from './desk';

const desk = (page: Page) => page.getByRole('region', { name: 'On the lanes' });
const levels = (page: Page) => desk(page).getByRole('region', { name: /^Levels of/ });
const notesOf = async (page: Page, rung: string) =>
  parseInt(
    (await levels(page).getByRole('row', { name: rung }).getByRole('cell').first().innerText()) ??
      '',
    10,
  );

/** One part in which two roles lie becomes two, and the upper one sits at the chanter’s top. */
async function seatUpper(page: Page) {
  await openDemo(page, 'Two in one boat');
  await stage(page, 'Seating').click();
  await page.getByRole('button', { name: 'Split it…' }).click();
  await page.getByRole('button', { name: 'Split in 2' }).click();
  await settled(page);
  const upper = page.locator('.slip').filter({ hasText: /from/ });
  await upper.getByRole('button').click();
  const seat = page.locator('[data-seat="chanter-5"]');
  await seat.getByRole('button', { name: /here$/ }).click();
  await settled(page);
}

test('two roles are parted, laid on lanes, a stretch by hand, and easier levels made of it', async ({
  page,
}) => {
  await seatUpper(page);
  const part = desk(page).getByRole('region', { name: /^Lanes of/ });
  await part.locator('.way').click();
  await page.locator('.n-base-select-option').getByText('By its contour', { exact: true }).click();
  await settled(page);
  await expect(page.locator('[data-seat="chanter-5"] > .says')).toContainText('every note fits');

  await part.getByRole('button', { name: 'Lay some bars by hand…' }).click();
  await part.getByLabel(/^First bar by hand/).fill('3');
  await part.getByLabel(/^Last bar by hand/).fill('4');
  const order = part.getByLabel(/^Lanes in their order/);
  await order.fill('1 2 9');
  await expect(part).toContainText('“9” is no lane: they are 1 to 7.');
  await expect(part.getByRole('button', { name: 'Lay by hand' })).toBeDisabled();
  await order.fill('1 2 3');
  await part.getByRole('button', { name: 'Lay by hand' }).click();
  await settled(page);
  await expect(part).toContainText('bars 3–4: 1 2 3');

  await levels(page).getByRole('button', { name: 'Make 4 easier levels' }).click();
  await settled(page);
  const made = await Promise.all([1, 2, 3, 4, 5].map((n) => notesOf(page, `Chanter, rung ${n}`)));
  expect(made[0]).toBeGreaterThan(0);
  for (let i = 1; i < 5; i++) expect(made[i]).toBeGreaterThanOrEqual(made[i - 1]!);
  expect(made[4]).toBeGreaterThan(made[0]!);

  // One level is asked for less.
  const strikes = levels(page).getByLabel('Chanter, rung 3: strikes in a second');
  await strikes.fill('1');
  await strikes.press('Tab');
  await settled(page);
  await expect.poll(() => notesOf(page, 'Chanter, rung 3')).toBeLessThan(made[2]!);

  // A note of a level is changed by hand: that one is no longer made anew.
  await page
    .locator('.parts .card')
    .filter({ hasText: 'Chanter, rung 1' })
    .locator('.name')
    .click();
  await page.keyboard.press('c');
  await page.locator('.close-up canvas').focus();
  await page.keyboard.press('Delete');
  await settled(page);
  const first = levels(page).getByRole('row', { name: 'Chanter, rung 1' });
  await expect(first).toContainText('changed by hand');
  await expect(first).toContainText('empty');
  await page.keyboard.press('c');
  await first.getByRole('button', { name: 'make it anew' }).click();
  await settled(page);
  await expect.poll(() => notesOf(page, 'Chanter, rung 1')).toBe(made[0]!);

  // What is done to the hardest goes into the others.
  await desk(page).getByRole('button', { name: 'No longer by hand: bars 3–4' }).click();
  await settled(page);
  expect(await notesOf(page, 'Chanter, rung 1')).toBeGreaterThan(0);
});

test('a note that is flipped in the close-up becomes part of the split', async ({ page }) => {
  await seatUpper(page);
  const upper = page.locator('[data-seat="chanter-5"] .slip');
  const before = parseInt(await upper.locator('.soft').innerText(), 10);
  await page.keyboard.press('c');
  const canvas = page.locator('.close-up canvas');
  const area = (await canvas.boundingBox())!;
  await page.mouse.move(area.x + 96, area.y + 20);
  await page.mouse.down();
  await page.mouse.move(area.x + area.width / 2, area.y + area.height - 40, { steps: 4 });
  await page.mouse.up();
  const chosen = parseInt(await page.locator('.close-up .says').innerText(), 10);
  expect(chosen).toBeGreaterThan(0);
  await page.getByRole('button', { name: 'Other side' }).click();
  await settled(page);
  await expect(upper.locator('.soft')).toHaveText(String(before - chosen));
  await stage(page, 'Proof').click();
  await page.getByRole('tab', { name: /Plan/ }).click();
  await expect(page.locator('.steps .says').first()).toContainText(`${chosen} notes by hand`);
  await page.keyboard.press('Control+z');
  await settled(page);
  await expect(page.locator('.steps .says').first()).not.toContainText('by hand');
});

test('a sampled loop is written out as a pattern and sits with the drums', async ({ page }) => {
  await openDemo(page, 'Rope walk');
  await stage(page, 'Seating').click();
  await page.locator('[data-seat="channel-5"] button.title').click();
  await page.getByRole('button', { name: 'Write out what it plays…' }).click();
  const cell = (name: string, n: number) =>
    page.getByRole('button', { name: new RegExp(`^${name}, place ${n}:`) });
  await cell('Bass drum 1', 1).click();
  await cell('Bass drum 1', 9).click();
  await cell('Acoustic snare', 5).click();
  await cell('Acoustic snare', 13).click();
  await cell('Acoustic snare', 13).click();
  await expect(cell('Acoustic snare', 13)).toHaveAttribute('aria-label', /soft$/);
  await page.getByRole('button', { name: 'Hear it' }).click();
  await page.getByRole('button', { name: 'Put 4 notes in its place' }).click();
  await settled(page);
  const drums = page.locator('[data-seat="drums"] .slip');
  await expect(drums).toContainText('Loom loop');
  // Sixteen loops of a bar, four strokes each.
  await expect(drums).toContainText('64');
});

test('bars are repeated, each pass a little otherwise, and what differs is listed', async ({
  page,
}) => {
  await openDemo(page, 'Rope walk');
  await stage(page, 'Seating').click();
  await page.getByText('Repeat bars, vary each repeat slightly').click();
  await page.getByLabel('Repeat from bar').fill('15');
  await page.getByLabel('Bars to repeat').fill('2');
  await page.getByLabel('Times more').fill('2');
  await page.getByRole('button', { name: 'Repeat', exact: true }).click();
  await settled(page);
  const passes = page.locator('.passes li');
  await expect(passes).toHaveCount(2);
  await expect(passes.first()).toContainText(/^pass 2: \d+ notes differ, velocity/);
  await expect(page.locator('.docket')).toContainText('20 bars');
  const said = await passes.first().innerText();
  await page.getByRole('button', { name: 'Another way' }).click();
  await settled(page);
  await expect(passes.first()).not.toHaveText(said);
  await page.getByRole('button', { name: 'not repeated' }).click();
  await settled(page);
  await expect(page.locator('.docket')).toContainText('16 bars');
});

test('parts are ranked by how well they would play as a chart', async ({ page }) => {
  await openDemo(page, 'Ebb and flood');
  await stage(page, 'Seating').click();
  const ranks = desk(page).locator('details');
  if ((await ranks.getAttribute('open')) === null) await ranks.locator('summary').click();
  const lines = ranks.locator('.ranks li');
  await expect(lines.first()).toContainText(/\d+ of 100.*strikes a second, \d+ keys?/s);
  const worth = (await lines.locator('.n').allInnerTexts()).map((t) => parseInt(t, 10));
  expect(worth.length).toBeGreaterThan(1);
  expect(worth).toEqual([...worth].sort((a, b) => b - a));
  // The parts column goes where the eye is.
  await lines.first().getByRole('button').click();
  await expect(page.locator('.parts .card.here')).toHaveCount(1);
});
