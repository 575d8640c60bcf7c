import { expect, type Page } from '@playwright/test';
import { openDemo, settled, stage, stands, test } from './desk';

const canvas = (page: Page) => page.locator('.close-up canvas');
const planSays = async (page: Page) => {
  await page.getByRole('tab', { name: /Plan/ }).click();
  await stands(page, '.plan');
  return page.locator('.steps .says').allTextContents();
};

/** Sweeps over all that is in view. */
async function sweepAll(page: Page) {
  const area = (await canvas(page).boundingBox())!;
  await page.mouse.move(area.x + 96, area.y + 20);
  await page.mouse.down();
  await page.mouse.move(area.x + area.width - 4, area.y + area.height - 40, { steps: 4 });
  await page.mouse.up();
}

test('the close-up: notes are chosen, moved, taken out and drawn, all in one step', async ({
  page,
}) => {
  await openDemo(page, 'Horns at dusk');
  await stage(page, 'Proof').click();
  await page.keyboard.press('c');
  await expect(page.getByRole('region', { name: 'Close-up' })).toBeVisible();
  await page.keyboard.press(']');
  await expect(page.locator('.close-up .who')).toContainText('Horn 1');
  await sweepAll(page);
  await expect(page.locator('.close-up .says')).toHaveText(
    /^\d notes chosen, the first \S+ at 2\.1/,
  );
  const chosen = parseInt((await page.locator('.close-up .says').textContent())!, 10);
  await canvas(page).focus();
  // Several in a row are one change: pressed at once, however busy the machine is.
  await canvas(page).evaluate((element) => {
    const press = (key: string, altKey = false) =>
      element.dispatchEvent(new KeyboardEvent('keydown', { key, altKey, bubbles: true }));
    for (let i = 0; i < 3; i++) press('ArrowUp');
    press('ArrowRight', true);
  });
  await settled(page);
  await expect(page.getByRole('tab', { name: 'Plan 1' })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('tab', { name: 'Plan 0' })).toBeVisible();
  await page.keyboard.press('Control+Shift+z');
  await settled(page);

  // A note is drawn at a place where there is none, and lengthened at its end.
  await canvas(page).focus();
  await page.keyboard.press('d');
  const area = (await canvas(page).boundingBox())!;
  await page.mouse.move(area.x + 110, area.y + 60);
  await page.mouse.down();
  await page.mouse.move(area.x + 150, area.y + 60, { steps: 3 });
  await page.mouse.up();
  await settled(page);
  expect(await planSays(page)).toEqual([expect.stringContaining(`${chosen + 1} notes by hand`)]);

  await page.keyboard.press('d');
  await page.locator('.lines summary').click();
  await expect(page.locator('.lines li')).toHaveCount(chosen + 1);
  await expect(page.locator('.lines li').first()).toContainText('+3 semitones');
  await page.getByRole('button', { name: /^Undo: .* drawn$/ }).click();
  await settled(page);
  expect(await planSays(page)).toEqual([expect.stringContaining(`${chosen} notes by hand`)]);
});

test('a note is dragged to another key and place; a double click on a bar looks closer', async ({
  page,
}) => {
  await openDemo(page, 'Horns at dusk');
  await stage(page, 'Proof').click();
  const sheet = (await page.getByRole('application', { name: /^Sheet/ }).boundingBox())!;
  await page.mouse.dblclick(sheet.x + 200, sheet.y + 100);
  await expect(canvas(page)).toBeVisible();
  await page.keyboard.press('c');
  await expect(canvas(page)).toHaveCount(0);
  await page.keyboard.press('c');
  await page.keyboard.press(']');
  await page.keyboard.press('n');
  await page.keyboard.press('a');
  await expect(page.locator('.close-up .says')).toHaveText(/^3 notes chosen/);
  await canvas(page).focus();
  await page.keyboard.press('Delete');
  await settled(page);
  expect(await planSays(page)).toEqual([expect.stringContaining('3 notes by hand')]);
  await expect(page.locator('.steps')).toContainText('3 notes left out');
});

test('a finger sweeps over notes, which are then moved by keys', async ({ browser }) => {
  const context = await browser.newContext({
    hasTouch: true,
    viewport: { width: 1280, height: 800 },
  });
  const page = await context.newPage();
  await openDemo(page, 'Horns at dusk');
  await stage(page, 'Proof').click();
  await page.keyboard.press(']');
  await page.keyboard.press('c');
  const area = (await canvas(page).boundingBox())!;
  const touch = await context.newCDPSession(page);
  const drag = async (from: { x: number; y: number }, to: { x: number; y: number }) => {
    await touch.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [from] });
    for (let i = 1; i <= 4; i++)
      await touch.send('Input.dispatchTouchEvent', {
        type: 'touchMove',
        touchPoints: [
          { x: from.x + ((to.x - from.x) * i) / 4, y: from.y + ((to.y - from.y) * i) / 4 },
        ],
      });
    await touch.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  };
  await drag(
    { x: area.x + 96, y: area.y + 20 },
    { x: area.x + area.width - 4, y: area.y + area.height - 40 },
  );
  await expect(page.locator('.close-up .says')).toHaveText(/^\d+ notes chosen/);
  // Its keys are there for who has a keyboard as well.
  await canvas(page).focus();
  await page.keyboard.press('ArrowUp');
  await expect(page.getByRole('tab', { name: 'Plan 1' })).toBeVisible();
  expect(await planSays(page)).toEqual([expect.stringContaining('notes by hand')]);
  await context.close();
});
