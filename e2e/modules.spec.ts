import { expect } from '@playwright/test';
import { eelMarket } from '../demo/modules/eel-market';
import { writeXm } from '../demo/modules/write-xm';
import { drop, isFor, mendEverything, settled, stage, stops, test } from './desk';

test('a module: from the drop to a file, with its own sound beside it', async ({ page }) => {
  await page.goto('/');
  await drop(page, [{ name: 'eel-market.xm', bytes: writeXm(eelMarket()) }]);
  await settled(page);
  const side = page.getByRole('complementary', { name: 'Intake tools' });
  await expect(side.getByRole('heading', { name: 'Module' })).toBeVisible();
  await expect(side.getByRole('listitem').filter({ hasText: 'Gull lead' }).first()).toBeVisible();
  await side.getByRole('button', { name: 'Put 1 sample where it sounds' }).click();
  await settled(page);
  await expect(side).not.toContainText('Put 1 sample');

  // Its own sound is in time by construction; the desk says so all the same.
  await side.getByRole('button', { name: 'Use its sound as the recording' }).click();
  await expect(side.getByText('A: the module')).toBeVisible({ timeout: 20_000 });
  await side.getByText('A: the module').click();
  await expect(side.getByRole('radio', { name: 'A: the module' })).toBeChecked();
  await side.getByText('B: the MIDI').click();
  await expect(side.getByRole('radio', { name: 'B: the MIDI' })).toBeChecked();

  await isFor(page, 'Parlour keyboard');
  await stage(page, 'Proof').click();
  await mendEverything(page);
  await expect(stops(page)).not.toContainText('stop');
  await stage(page, 'Timing').click();
  await expect(page.getByRole('complementary', { name: 'Timing tools' })).toContainText(
    'eel-market-module.wav',
  );
});
