import { expect } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { alone as test, drop, openDemo, settled, stage, stands, stops } from './desk';
import { smf, Track } from '../demo/song';

const song = (i: number) => {
  const calls = new Track(i === 7 ? 'Whistle' : 'Lantern cues');
  for (let n = 0; n < 8; n++) calls.note(16, n * 960, 240, 24 + n, 90);
  return smf(1, 480, [new Track(`Evening ${i}`).tempo(0, 100).meter(0, 4, 4), calls]);
};

test('a plan is kept as a recipe and used on forty files; each becomes a job where asked', async ({
  page,
}) => {
  test.setTimeout(120_000);
  await openDemo(page, 'Turn of the tide');
  await stage(page, 'Proof').click();
  await page.getByRole('button', { name: /^Mend what loses nothing/ }).click();
  await settled(page);
  await page.getByRole('tab', { name: /Plan/ }).click();
  await stands(page, '.plan');
  const planned = await page.locator('.step').count();
  await page.getByRole('button', { name: 'Keep as a recipe' }).click();
  await page.getByRole('link', { name: 'Recipes' }).click();
  await expect(page.getByRole('heading', { name: 'Recipes' })).toBeVisible();
  const shelf = page.getByRole('list', { name: 'Recipes' });
  await shelf.getByRole('button', { name: /^Turn of the tide/ }).click();
  await expect(page.locator('.steps li')).toHaveCount(planned);
  const files = Array.from({ length: 40 }, (_, i) => ({
    name: `evening-${i + 1}.mid`,
    bytes: i === 12 ? Uint8Array.of(1, 2, 3) : song(i),
  }));
  await drop(page, files);
  const rows = page.locator('.table tbody tr');
  await expect(rows).toHaveCount(40);
  await expect(page.getByRole('button', { name: 'Use it on files' })).toBeVisible({
    timeout: 60_000,
  });
  await expect(rows.nth(12)).toContainText('not read');
  await expect(rows.nth(0)).toContainText(/stop|caution|in order/i);
  // What the recipe names and a file does not have is listed in its row.
  await expect(rows.nth(0).locator('td').nth(2)).not.toHaveText('–');
  await rows.nth(0).getByRole('button', { name: 'Open as a job' }).click();
  await settled(page);
  await expect(stops(page)).toBeVisible();
  await page.getByRole('tab', { name: /Plan/ }).click();
  await expect(page.locator('.step')).toHaveCount(planned);

  // Out as a file, away, and in again.
  await page.getByRole('link', { name: 'Recipes' }).click();
  const waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save Turn of the tide as a file' }).click();
  const saved = await waiting;
  expect(saved.suggestedFilename()).toBe('turn-of-the-tide-lantern-rail.recipe.json');
  const text = readFileSync(await saved.path());
  await page.getByRole('button', { name: 'Remove Turn of the tide' }).click();
  await page.getByRole('button', { name: 'Remove the recipe' }).click();
  await expect(page.getByText('A recipe is the plan of a job')).toBeVisible();
  await drop(page, [{ name: saved.suggestedFilename(), bytes: new Uint8Array(text) }]);
  await expect(page.getByRole('button', { name: /Turn of the tide/ }).first()).toBeVisible();
});
