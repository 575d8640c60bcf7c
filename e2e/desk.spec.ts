import { expect } from '@playwright/test';
import { benchSong } from '../bench/songs';
import { alone, bytesOf, drop, isFor, note, openDemo, settled, stage, stops, test } from './desk';

test('sound: starts at once, the place runs, speed and loop do what they say', async ({ page }) => {
  await openDemo(page, 'Turn of the tide');
  await page
    .locator('.frame')
    .first()
    .click({ position: { x: 400, y: 20 } });
  const started = await page.evaluate(async () => {
    const clock = () => document.querySelector('[data-testid="clock"]')!.textContent;
    const before = clock();
    const begun = performance.now();
    document.querySelector<HTMLButtonElement>('button[aria-label="Play"]')!.click();
    while (clock() === before && performance.now() - begun < 8_000)
      await new Promise((r) => requestAnimationFrame(r));
    return performance.now() - begun;
  });
  expect(started).toBeLessThan(8_000);
  const ms = async () => {
    const [minutes, seconds] = (await page.getByTestId('clock').textContent())!.split(':');
    return Number(minutes) * 60_000 + Number(seconds) * 1000;
  };
  // However busy the machine is, the place runs on, and never ahead of the time that went by.
  const begun = Date.now();
  const from = await ms();
  await expect.poll(async () => (await ms()) - from, { timeout: 20_000 }).toBeGreaterThan(600);
  const ran = (await ms()) - from;
  expect(ran).toBeLessThan(Date.now() - begun + 500);
  await page.getByRole('button', { name: 'Source', exact: true }).click();
  await page.getByRole('button', { name: 'Mute Lamp cues' }).click();
  await expect(page.getByRole('button', { name: 'Mute Lamp cues' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  const stopped = await ms();
  // Ten pictures on, the place is still the same.
  await page.evaluate(async () => {
    for (let i = 0; i < 10; i++) await new Promise((r) => requestAnimationFrame(r));
  });
  expect(await ms()).toBe(stopped);
});

test('keyboard: notes, parts, place, before and after', async ({ page }) => {
  await openDemo(page, 'Turn of the tide');
  await page.keyboard.press('n');
  await expect(note(page, 'rest-owed')).toHaveClass(/open/);
  await page.keyboard.press('n');
  await expect(note(page, 'at-once')).toHaveClass(/open/);
  await page.keyboard.press('p');
  await expect(note(page, 'rest-owed')).toHaveClass(/open/);
  await page.keyboard.press('m');
  await expect(note(page, 'rest-owed')).toHaveCount(0);
  await expect(page.locator('.docket')).toContainText('first note 4.1');
  await page.keyboard.down('b');
  await expect(page.locator('.docket')).toContainText('before any change');
  await expect(page.locator('.docket')).toContainText('first note 1.1');
  await page.keyboard.up('b');
  await expect(page.locator('.docket')).toContainText('first note 4.1');
  await page.keyboard.press(']');
  await expect(page.locator('.card.here')).toContainText('Lamp cues');
  await page.getByRole('application').focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByTestId('place')).toHaveText('1.2');
  await page.keyboard.press('ArrowDown');
  await expect(page.getByTestId('place')).toHaveText('9.2');
  await page.keyboard.press('?');
  await expect(page.getByText('Apply every mend that loses nothing')).toBeVisible();
  await page.keyboard.press('Escape');
});

test('a mend can be looked at before it is applied', async ({ page }) => {
  await openDemo(page, 'Turn of the tide');
  await page.keyboard.press('n');
  const look = page.getByRole('button', { name: 'Look at it first: Put back 3 bars of rest' });
  await look.click();
  await expect(page.locator('.docket')).toContainText('with this mend');
  await expect(page.locator('.docket')).toContainText('first note 4.1');
  await look.click();
  await expect(page.locator('.docket')).toContainText('first note 1.1');
  await expect(note(page, 'rest-owed')).toHaveCount(1);
});

/** Where memory cannot be shared the worker is ended instead: `worker/client.test.ts` has that. */
test('a window that is made narrower has all of the desk in it', async ({ page }) => {
  await openDemo(page, 'Ninety lanterns');
  for (const name of ['Seating', 'Proof', 'Rehearsal']) {
    await page.setViewportSize({ width: 1280, height: 800 });
    await stage(page, name).click();
    await expect(page.locator('.sheet-side canvas').first()).toBeVisible();
    await page.setViewportSize({ width: 1024, height: 768 });
    await expect
      .poll(() =>
        page.evaluate(() =>
          [...document.querySelectorAll('.job, .job button, .job canvas')]
            .map((e) => Math.round(e.getBoundingClientRect().right))
            .filter((right) => right > window.innerWidth),
        ),
      )
      .toEqual([]);
  }
  await page.setViewportSize({ width: 1280, height: 800 });
});

alone('long work shows how far it is and can be given up; nothing is changed', async ({ page }) => {
  test.setTimeout(120_000);
  await page.goto('/');
  await drop(page, [
    { name: 'large.mid', bytes: benchSong({ notes: 120_000, tracks: 16, last: 'Cue line' }) },
  ]);
  await settled(page);
  await isFor(page, 'Lantern rail');
  const mend = page.locator('.docket').getByRole('button', { name: /^Mend what loses nothing/ });
  await stage(page, 'Proof').click();
  await expect(mend).toBeVisible({ timeout: 60_000 });
  const before = await stops(page).textContent();
  await mend.click();
  const busy = page.getByRole('status').filter({ hasText: 'Mending' });
  await expect(busy).toBeVisible();
  await busy.getByRole('button', { name: 'Cancel' }).click();
  await expect(busy).toHaveCount(0);
  await settled(page);
  expect(await stops(page).textContent()).toBe(before);
  const undo = page.getByRole('button', { name: 'Undo', exact: true });
  await expect(undo).toBeDisabled();
  await mend.click();
  await expect(undo).toBeEnabled({ timeout: 60_000 });
});

test('the plan: off and on, another order, a step of one’s own, a wrong value', async ({
  page,
}) => {
  await openDemo(page, 'Turn of the tide');
  await page.getByRole('button', { name: /^Mend what loses nothing/ }).click();
  await expect(stops(page)).toHaveText(/^\s*3 stops/);
  await page.getByRole('tab', { name: /Plan/ }).click();
  await page.getByRole('switch', { name: /3 bars of rest/ }).click();
  await expect(stops(page)).toHaveText(/^\s*4 stops/);
  await page.getByRole('switch', { name: /3 bars of rest/ }).click();
  await expect(stops(page)).toHaveText(/^\s*3 stops/);
  await page.locator('.step').nth(3).getByRole('button', { name: 'Earlier' }).click();
  await expect(page.locator('.step').nth(2)).toContainText('3 bars of rest');
  await page.getByRole('button', { name: 'Add a step' }).click();
  await page.locator('.adding .n-select').first().click();
  await page.getByText('Transpose', { exact: true }).click();
  await page.getByRole('button', { name: 'Add to the plan' }).click();
  await expect(page.locator('.adding').getByRole('alert')).toContainText('semitones');
  await page.locator('.adding input').nth(1).fill('2');
  await page.getByRole('button', { name: 'Add to the plan' }).click();
  await expect(page.locator('.step').last()).toContainText('Up 2 semitones');
});

test('sheet: a sweep chooses notes, a mark opens its note, the row count can be set', async ({
  page,
}) => {
  await openDemo(page, 'Turn of the tide');
  const box = (await page.getByRole('application').boundingBox())!;
  await page.mouse.move(box.x + 200, box.y + 42);
  await page.mouse.down();
  await page.mouse.move(box.x + 560, box.y + 130, { steps: 5 });
  await page.mouse.up();
  await expect(page.locator('.spoken')).toContainText(/\d+ notes chosen/);
  await page.getByRole('button', { name: /^Note 7, stop/ }).click();
  await expect(note(page, 'too-short')).toHaveClass(/open/);
  await page.locator('.strip .rows').click();
  await page.getByText('4 bars a row', { exact: true }).click();
  await expect(page.locator('.paper canvas').first()).toBeVisible();
  const height = await page.locator('.paper').evaluate((e) => e.clientHeight);
  expect(height).toBeGreaterThan(900);
  await page.locator('.strip .rows').click();
  for (const key of ['ArrowUp', 'ArrowUp', 'ArrowUp', 'ArrowUp', 'Enter'])
    await page.keyboard.press(key);
  await expect.poll(() => page.locator('.paper').evaluate((e) => e.clientHeight)).toBeLessThan(900);
});

test('a job goes out as a file and comes in again', async ({ page }) => {
  await openDemo(page, 'Salt bell round');
  await page.getByRole('button', { name: /^Mend what loses nothing/ }).click();
  await expect(stops(page)).not.toContainText('13 stops');
  const after = await stops(page).textContent();
  await page.getByRole('link', { name: 'Jobs', exact: true }).click();
  const waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save Salt bell round as a file' }).click();
  const bytes = await bytesOf(await waiting);
  await page.getByRole('button', { name: 'Remove Salt bell round' }).click();
  await page.getByRole('button', { name: 'Remove the job' }).click();
  await expect(page.getByRole('link', { name: 'Salt bell round' })).toHaveCount(0);
  await drop(page, [{ name: 'round.quilljob', bytes }]);
  await settled(page);
  await expect(stops(page)).toHaveText(after!);
  await stage(page, 'Proof').click();
  await page.keyboard.press('Control+z');
  await expect(stops(page)).toContainText('13 stops');
});

alone(
  'two tabs on one job: the second reads only, and may write once the first is closed',
  async ({ context }) => {
    const first = await context.newPage();
    await openDemo(first, 'Turn of the tide');
    const second = await context.newPage();
    await second.goto(first.url());
    await settled(second);
    await expect(second.getByText('This job is open in another tab')).toBeVisible();
    await expect(second.getByRole('button', { name: /^Mend what loses nothing/ })).toBeDisabled();
    await note(first, 'rest-owed').getByRole('button', { name: 'Put back 3 bars of rest' }).click();
    await expect(note(first, 'rest-owed')).toHaveCount(0);
    // What is on the screen is on its way into the database: that it is there is waited for.
    await settled(first);
    await first.close();
    await expect(second.getByText('This job is open in another tab')).toHaveCount(0);
    await expect(note(second, 'rest-owed')).toHaveCount(0);
  },
);

alone('a full database says so and offers the job as a file', async ({ page }) => {
  await openDemo(page, 'Turn of the tide');
  await page.evaluate(() => {
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('full', 'QuotaExceededError');
    };
  });
  await note(page, 'rest-owed').getByRole('button', { name: 'Put back 3 bars of rest' }).click();
  await expect(page.getByText('The browser has no room left')).toBeVisible();
  await expect(note(page, 'rest-owed')).toHaveCount(0);
  const waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save the job as a file' }).click();
  expect((await waiting).suggestedFilename()).toBe('Turn of the tide.quilljob');
});
