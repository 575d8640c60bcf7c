import { expect, type Locator, type Page } from '@playwright/test';
import { drop, openDemo, planSays, revision, seatDesk, settled, stage, test } from './desk';
import { smf, Track } from '../demo/song';

const seat = (page: Page, name: string) =>
  page.locator('[data-seat]').filter({ has: page.getByText(name, { exact: true }) });
const pile = (page: Page) => page.getByRole('region', { name: /^Left out/ });

/** Carries a slip over a place, and looks before it is let go of. */
async function carry(page: Page, slip: Locator, to: Locator, look: () => Promise<void>) {
  await to.scrollIntoViewIfNeeded();
  const [from, there] = [(await slip.boundingBox())!, (await to.boundingBox())!];
  await page.mouse.move(from.x + 20, from.y + 10);
  await page.mouse.down();
  await page.mouse.move(there.x + 30, there.y + 12, { steps: 6 });
  await look();
  await page.mouse.up();
}

test('a slip is carried to a seat: the card says what would come of it first', async ({ page }) => {
  await openDemo(page, 'Tide table');
  await seatDesk(page);
  const slip = seat(page, 'Voice 1').locator('.slip');
  const before = await revision(page);
  await carry(page, slip, seat(page, 'Voice 2'), async () => {
    await expect(seat(page, 'Voice 2').locator('.says')).toHaveText(/^42 of 42 notes would fit/);
    await expect(seat(page, 'Voice 2')).toHaveClass(/aimed/);
    expect(await revision(page)).toBe(before);
  });
  await expect(seat(page, 'Voice 2').locator('.slip')).toHaveCount(2);
  await settled(page);
  // The next gesture takes the place of the last one: one step a part.
  await carry(page, seat(page, 'Voice 2').locator('.slip').first(), pile(page), async () => {});
  await expect(pile(page)).toContainText('Voice 1');
  await settled(page);
  const said = await planSays(page, 'Seating');
  expect(said.filter((s) => s.startsWith('Voice 1'))).toEqual([
    expect.stringContaining('leave out'),
  ]);
});

test('by keys alone: a part, a seat by its digit, Enter, and Delete', async ({ page }) => {
  await openDemo(page, 'Tide table');
  await seatDesk(page);
  await page.locator('body').click({ position: { x: 330, y: 20 } });
  await page.keyboard.press(']');
  await expect(page.locator('.slip.picked')).toContainText('Voice 1');
  await page.keyboard.press('3');
  await expect(seat(page, 'Voice 3').locator('.says')).toContainText('would fit');
  await page.keyboard.press('Enter');
  await expect(seat(page, 'Voice 3').locator('.slip')).toHaveCount(2);
  await page.keyboard.press('Delete');
  await expect(pile(page)).toContainText('Voice 1');
  await page.keyboard.press('Control+z');
  await expect(seat(page, 'Voice 3').locator('.slip')).toHaveCount(2);
});

test('an opened seat: pitch tried out and moved in one step, drums to the nearest in kind', async ({
  page,
}) => {
  await openDemo(page, 'Horns at dusk');
  await stage(page, 'Seating').click();
  await seat(page, 'Horn 1').getByRole('button', { name: 'Horn 1', exact: true }).first().click();
  const tools = seat(page, 'Horn 1').locator('.tools');
  await expect(tools).toContainText('16 of 17 notes fit');
  await tools.getByLabel('Transpose Horn 1 by semitones').fill('12');
  await expect(tools).toContainText('17 of 17 notes fit');
  await tools.getByRole('button', { name: 'Move' }).click();
  await settled(page);
  await tools.getByRole('button', { name: 'Octave down' }).click();
  await expect(tools).toContainText('16 of 17 notes fit');
  await settled(page);
  expect(await planSays(page, 'Seating')).toEqual([]);

  const kit = new Track('Kit');
  for (const [i, key] of [35, 40, 44, 57, 61].entries()) kit.note(10, i * 480, 120, key, 90);
  await page.getByRole('link', { name: 'Jobs', exact: true }).click();
  await drop(page, [
    {
      name: 'kit.mid',
      bytes: smf(1, 480, [new Track('Kit song').tempo(0, 100).meter(0, 4, 4), kit]),
    },
  ]);
  await settled(page);
  await page.locator('.docket .target').click();
  await page.locator('.n-base-select-option').getByText('Stomp crate', { exact: true }).click();
  await settled(page);
  await seatDesk(page);
  await page.getByRole('button', { name: 'Taken as they are' }).click();
  await page.getByRole('button', { name: 'Key by key…' }).click();
  await expect(page.locator('.map')).toContainText('without a place');
  await page.getByRole('button', { name: 'Nearest in kind' }).click();
  await expect(page.locator('.map')).toContainText('Every key has a place');
  await page.getByRole('button', { name: /^Map \d keys?$/ }).click();
  await expect(page.locator('[data-seat] > .says')).toContainText('every note fits');
});

test('what a part sets up at its start is typed, and is as written again when emptied', async ({
  page,
}) => {
  await openDemo(page, 'Parlour evening');
  await stage(page, 'Seating').click();
  await seat(page, 'Channel 1').getByRole('button', { name: 'Channel 1', exact: true }).click();
  const volume = page.getByLabel('Volume of Lead at the start');
  await volume.fill('88');
  await volume.press('Tab');
  await settled(page);
  await stage(page, 'Proof').click();
  await page.getByRole('tab', { name: /Plan/ }).click();
  await expect(page.locator('.steps .says').last()).toContainText('controller 7 at 88');
  await stage(page, 'Seating').click();
  await expect(volume).toHaveValue('88');
  await volume.fill('');
  await volume.press('Tab');
  await settled(page);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(volume).toHaveValue('88');
});

test('a part is split at a border that is shown first, and joined again', async ({ page }) => {
  await openDemo(page, 'Parlour evening');
  await stage(page, 'Seating').click();
  await seat(page, 'Channel 1').getByRole('button', { name: 'Channel 1', exact: true }).click();
  await page.getByRole('button', { name: 'Split…' }).click();
  await expect(page.locator('.pieces li')).toHaveCount(2);
  await expect(page.locator('.pieces')).toContainText('from B4');
  const notes = async () =>
    (await page.locator('.pieces .soft').allTextContents()).map((t) => parseInt(t, 10));
  const [low, high] = await notes();
  expect(low! + high!).toBe(113);
  await page.getByRole('slider', { name: 'Border between the two' }).press('ArrowLeft');
  await expect(page.locator('.pieces')).toContainText('from B♭4');
  // The border is dragged in the histogram, and goes back by the keys.
  const strip = page.getByRole('img', { name: /^Keys of Lead, parted before/ });
  const edges = (await strip.boundingBox())!;
  await page.mouse.move(edges.x + edges.width / 2, edges.y + 15);
  await page.mouse.down();
  await page.mouse.move(edges.x + edges.width * 0.25, edges.y + 15, { steps: 3 });
  await page.mouse.up();
  await expect(page.locator('.pieces')).not.toContainText('from B♭4');
  await page.getByRole('slider', { name: 'Border between the two' }).fill('70');
  await expect(page.locator('.pieces')).toContainText('from B♭4');
  await page.getByRole('button', { name: 'Split in 2' }).click();
  await settled(page);
  await expect(page.locator('.left')).toContainText('Lead, below B♭4');
  const slips = page.locator('.slip').filter({ hasText: 'Lead,' });
  await expect(slips).toHaveCount(2);
  await slips.first().getByRole('button').click();
  await slips
    .last()
    .getByRole('button')
    .click({ modifiers: ['Control'] });
  await page.getByRole('button', { name: 'Join 2 parts in one' }).click();
  await settled(page);
  await expect(page.locator('.slip').filter({ hasText: 'Lead' })).toHaveCount(1);
});

test('a card of the parts column is carried to a seat, and a slip by a finger', async ({
  browser,
}) => {
  const context = await browser.newContext({
    hasTouch: true,
    viewport: { width: 1280, height: 800 },
  });
  const page = await context.newPage();
  await openDemo(page, 'Tide table');
  await seatDesk(page);
  const card = page.locator('.parts .card').filter({ hasText: 'Voice 1' }).first();
  await carry(page, card, seat(page, 'Voice 3'), async () => {
    await expect(seat(page, 'Voice 3')).toHaveClass(/aimed/);
  });
  await settled(page);
  await expect(seat(page, 'Voice 3').locator('.slip')).toHaveCount(2);

  // The finger’s own events, as the browser makes them of a touch.
  const slip = seat(page, 'Voice 3').locator('.slip').first();
  const to = seat(page, 'Voice 2');
  await to.scrollIntoViewIfNeeded();
  const [from, there] = [(await slip.boundingBox())!, (await to.boundingBox())!];
  const touch = await context.newCDPSession(page);
  const at = (x: number, y: number) => [{ x, y }];
  const send = (
    type: 'touchStart' | 'touchMove' | 'touchEnd',
    touchPoints: { x: number; y: number }[],
  ) => touch.send('Input.dispatchTouchEvent', { type, touchPoints });
  await send('touchStart', at(from.x + 20, from.y + 10));
  for (let i = 1; i <= 6; i++)
    await send(
      'touchMove',
      at(
        from.x + 20 + ((there.x + 30 - from.x - 20) * i) / 6,
        from.y + 10 + ((there.y + 12 - from.y - 10) * i) / 6,
      ),
    );
  await expect(to).toHaveClass(/aimed/);
  await send('touchEnd', []);
  await settled(page);
  await expect(to.locator('.slip')).toHaveCount(2);
  await context.close();
});
