import { expect } from '@playwright/test';
import { mendEverything, openDemo, stage, stops, test } from './desk';

test('a pedal is mended, its presets chosen by marker, a curve changed by hand, and handed over', async ({
  page,
}) => {
  await openDemo(page, 'Salt in the wires');
  await stage(page, 'Proof').click();
  await expect(page.getByText('Presets too late')).toBeVisible();
  await expect(page.getByText('6 presets, 8,087 values')).toBeVisible();

  // The table: a choice is a step, and each preset stands at its lead.
  await page.getByRole('tab', { name: 'Presets' }).click();
  await expect(page.getByText('577 ms behind')).toBeVisible();
  await page.getByLabel('Preset at Break').click();
  await page.getByText('C5 Marsh light').click();
  await expect(page.getByText('577 ms behind')).toHaveCount(0);
  await expect(page.getByRole('tab', { name: 'Plan 1' })).toBeVisible();

  // The lane: a value is chosen and moved by keys; undone it is as it was.
  await page.getByRole('tab', { name: 'Margin notes' }).click();
  await page.keyboard.press('c');
  const lane = page.getByLabel(/^Expression: /);
  await lane.focus();
  await page.keyboard.press('.');
  await expect(lane).toHaveAccessibleName(/1 value chosen, the first 90 at 1\.1/);
  await page.keyboard.press('ArrowUp');
  await expect(lane).toHaveAccessibleName(/1 value chosen, the first 91 at 1\.1/);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('tab', { name: 'Plan 1' })).toBeVisible();

  // Copied points are put at the playhead; thinning is seen before it is done.
  const values = async () => Number((await lane.getAttribute('aria-label'))!.match(/\d+/)![0]);
  await expect(lane).toHaveAccessibleName(/8,080 values/);
  await lane.press('.');
  await lane.press('Control+c');
  await lane.press('Control+d');
  await expect(page.getByText('Expression (8,081)').first()).toBeVisible();
  await expect(lane).toHaveAccessibleName(/1 value chosen/);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Thin…' }).click();
  const within = page.getByLabel('How far a value may stand from the curve');
  const said = page.getByText(/^8,080 values → [\d,]+, at most \d+ off$/);
  const byOne = (await said.textContent())!;
  await within.fill('2');
  await expect(said).not.toHaveText(byOne);
  const left = (await said.textContent())!.match(/→ ([\d,]*\d)/)![1]!;
  await page.getByRole('button', { name: 'Thin', exact: true }).click();
  await expect(page.getByText(`Expression (${left})`).first()).toBeVisible();
  expect(await values()).toBeGreaterThan(0);

  await mendEverything(page);
  await expect(stops(page)).not.toContainText('stop');
  await stage(page, 'Rehearsal').click();
  await expect(page.getByTestId('rehearsal-verdict')).toContainText(
    'Effects pedal: loaded, and plays everything as it is meant.',
  );
});

test('lamps are drawn, faded as fast as they follow, and dark at the end', async ({ page }) => {
  await openDemo(page, 'Along the gallery');
  await stage(page, 'Proof').click();
  await expect(page.getByText(/left standing at the end/).first()).toBeVisible();
  await page.keyboard.press('c');
  const lane = page.getByLabel(/^Lamps 20: /);
  await expect(lane).toBeVisible();
  await page.getByRole('button', { name: 'Draw notes' }).click();
  const box = (await lane.boundingBox())!;
  await page.mouse.move(box.x + 300, box.y + 20);
  await page.mouse.down();
  await page.mouse.move(box.x + 420, box.y + box.height - 12, { steps: 8 });
  await page.mouse.up();
  await expect(page.getByRole('tab', { name: 'Plan 1' })).toBeVisible();
  await page.getByRole('tab', { name: 'Plan 1' }).click();
  await expect(page.getByText(/Draw controller 20/i).first()).toBeVisible();
});

test('a pedal is stamped by key, turned by the pointer, and what was played goes into the plan', async ({
  page,
}) => {
  await openDemo(page, 'Salt in the wires');
  await mendEverything(page);
  const plan = page.getByRole('tab', { name: /^Plan \d+/ });
  const steps = Number((await plan.textContent())!.replace(/\D/g, ''));
  await stage(page, 'Rehearsal').click();
  await expect(page.getByTestId('rehearsal-verdict')).toContainText('as it is meant');
  // Somewhere in the verse, where nothing loads.
  await page.getByRole('application').focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight');
  await expect(page.getByTestId('place')).not.toHaveText('1.1');
  await page.getByRole('button', { name: 'Hands on' }).first().click();
  const doing = page.getByTestId('hands-say');
  await expect(doing).toContainText('Expression at');
  await page.keyboard.press('KeyD');
  const lid = (await page.locator('section.scene canvas').boundingBox())!;
  const [x, y] = [lid.x + lid.width * 0.735, lid.y + lid.height * 0.41];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x, y + 40, { steps: 4 });
  await page.mouse.up();
  const recorded = page.getByTestId('recorded');
  await expect(recorded).toContainText('1 stamp, 1 turn of the dial');
  // Given back, nothing is lost.
  await page.keyboard.press('Escape');
  await expect(recorded).toBeVisible();
  await page.getByRole('button', { name: 'Into the plan' }).click();
  await expect(recorded).toHaveCount(0);
  await stage(page, 'Proof').click();
  await expect(plan).toHaveText(new RegExp(`^Plan ?${steps + 2}$`));
});
