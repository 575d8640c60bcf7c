import { expect } from '@playwright/test';
import { openDemo, planSays, settled, stage, test } from './desk';

test('the wheel: candidates are heard while the music plays; one is kept, or none', async ({
  page,
}) => {
  await openDemo(page, 'Parlour evening');
  await stage(page, 'Seating').click();
  await page.locator('body').click({ position: { x: 330, y: 20 } });
  await page.keyboard.press(']');
  await page.keyboard.press('Space');
  await page.keyboard.press('q');
  const wheel = page.getByRole('region', { name: 'Try-out wheel' });
  await expect(wheel).toContainText('Lead');
  const name = wheel.locator('strong');
  const first = await name.textContent();
  await page.keyboard.press('PageDown');
  await expect(name).not.toHaveText(first!);
  await page.keyboard.press('Escape');
  await expect(wheel).toHaveCount(0);
  expect(await planSays(page, 'Seating')).toEqual([]);
  await page.locator('body').click({ position: { x: 330, y: 20 } });
  await page.keyboard.press('q');
  await page.keyboard.press('PageDown');
  const kept = (await name.textContent())!;
  await page.keyboard.press('Enter');
  await settled(page);
  const program = kept.match(/\((\d+)\)/)![1]!;
  expect(await planSays(page, 'Seating')).toEqual([expect.stringContaining(`program ${program}`)]);
  // Octaves add up with what the seat desk moved; there and back is nothing.
  await page.locator('body').click({ position: { x: 330, y: 20 } });
  await page.keyboard.press('q');
  await wheel.locator('.n-select').click();
  await page.getByText('Octave', { exact: true }).click();
  await wheel.getByRole('button', { name: 'Next candidate' }).click();
  await expect(name).toHaveText('Up 1 octave');
  await wheel.getByRole('button', { name: 'Keep' }).click();
  await settled(page);
  expect((await planSays(page, 'Seating')).at(-1)).toContain('12 semitones');
});

test('the wheel: rates tell drift and clashes, kits go round by themselves, levels are matched', async ({
  page,
}) => {
  await openDemo(page, 'Paper march');
  await stage(page, 'Seating').click();
  const wheel = page.getByRole('region', { name: 'Try-out wheel' });
  await page.keyboard.press('q');
  await wheel.locator('.kind').click();
  await page.locator('.n-base-select-option').getByText('Row rate', { exact: true }).click();
  await expect(wheel).toContainText('of 5');
  await wheel.getByRole('button', { name: 'Next candidate' }).click();
  await expect(wheel).toContainText(/4 rows a second: notes within \d+ ms, .*rows in 32 s/);
  await wheel.getByRole('button', { name: 'Keep' }).click();
  await settled(page);
  expect((await planSays(page, 'Seating')).join('; ')).toContain('4 rows a second');
  // Another rate takes the place of the first.
  await page.keyboard.press('q');
  await expect(wheel).toContainText('As it is, 4 rows a second');
  await wheel.getByRole('button', { name: 'Next candidate' }).click();
  await wheel.getByRole('button', { name: 'Next candidate' }).click();
  const name = (await wheel.locator('strong').innerText()).split(':')[0]!;
  await wheel.getByRole('button', { name: 'Keep' }).click();
  await settled(page);
  const said = await planSays(page, 'Seating');
  expect(said.filter((s) => /rows a second/.test(s))).toHaveLength(1);
  expect(said.join('; ')).toContain(name.split(' ')[0]!);

  await openDemo(page, 'Quay stomp');
  await stage(page, 'Seating').click();
  // A short loop, so that it comes round soon.
  await page
    .getByRole('combobox', { name: 'Speed' })
    .or(page.locator('.pulse .speed'))
    .first()
    .click();
  await page.locator('.n-base-select-option').getByText('200 %', { exact: true }).click();
  await page.getByRole('button', { name: 'Hear each kit' }).click();
  await expect(wheel).toContainText('Quay');
  await expect(wheel.locator('strong')).toContainText('Loft', { timeout: 15_000 });
  await page.keyboard.press('Escape');
  await expect(wheel).toBeHidden();
});
