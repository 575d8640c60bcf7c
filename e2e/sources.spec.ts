import { readFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import { unzipSync } from 'fflate';
import { parseMidi } from 'midi-file';
import { smf, Track } from '../demo/song';
import { bytesOf, drop, openDemo, settled, stage, test } from './desk';

const file = (name: string) => ({
  name,
  bytes: new Uint8Array(readFileSync(`demo/lantern-week/${name}`)),
});

test('three exports, one song: from the drop to the handover', async ({ page }) => {
  await page.goto('/');
  await drop(page, [file('procession drums.mid')]);
  await settled(page);
  await drop(page, [file('procession bells.mid'), file('procession cues.mid')]);
  await page.getByRole('button', { name: 'Further sources of this job' }).click();
  await settled(page);
  await expect(page.locator('.docket .source')).toHaveText('3 sources');
  await expect(page.locator('.docket')).toContainText('960 PPQ');
  const side = page.getByRole('complementary', { name: 'Intake tools' });
  await expect(side).toContainText('procession bells.mid ends after 20 bars');
  // Every part says where it came from.
  await expect(page.locator('.card', { hasText: 'Treble bells' })).toContainText(
    '(procession bells.mid)',
  );
  await side.getByRole('button', { name: 'Put 4 bars before it, to end together' }).click();
  await settled(page);
  await expect(side).not.toContainText('ends after 20 bars');
  await page.locator('.docket .target').click();
  await page
    .locator('.n-base-select-option')
    .getByText('Parlour keyboard', { exact: true })
    .click();
  await settled(page);

  // A newer export of one of the three: the others stay, and so does where it was put.
  const bells = new Track('Treble bells').program(0, 1, 14);
  for (let i = 0; i < 10; i++) bells.note(1, i * 480, 400, 72 + (i % 5), 90);
  await drop(page, [{ name: 'procession bells.mid', bytes: smf(1, 480, [bells], 20 * 1920) }]);
  await page.getByRole('button', { name: 'A newer export of procession bells.mid' }).click();
  await settled(page);
  await expect(page.locator('.left')).not.toContainText('Tenor bells');

  await stage(page, 'Handover').click();
  const waiting = page.waitForEvent('download');
  await page.locator('.docket').getByRole('button', { name: 'Hand over', exact: true }).click();
  const files = unzipSync(await bytesOf(await waiting));
  const midi = parseMidi(files[Object.keys(files).find((n) => n.endsWith('.mid'))!]!);
  const begins = (channel: number) => {
    let earliest = Infinity;
    for (const track of midi.tracks) {
      let tick = 0;
      for (const e of track) {
        tick += e.deltaTime;
        if (e.type === 'noteOn' && e.channel === channel) earliest = Math.min(earliest, tick);
      }
    }
    return earliest / midi.header.ticksPerBeat!;
  };
  // Drums at once, bells and cues at bar 5.
  expect([begins(9), begins(0), begins(15)]).toEqual([0, 16, 16]);
  const receipt = JSON.parse(new TextDecoder().decode(files['receipt.json']));
  expect(receipt.sources.map((s: { name: string }) => s.name).sort()).toEqual([
    'procession bells.mid',
    'procession cues.mid',
    'procession drums.mid',
  ]);
});

test('a source goes and comes back with undo; one may be a file of its own', async ({ page }) => {
  await openDemo(page, 'Night procession');
  await stage(page, 'Intake').click();
  await page.getByRole('button', { name: 'Take procession cues.mid out of the job' }).click();
  await settled(page);
  await expect(page.locator('.docket .source')).toHaveText('2 sources');
  await expect(page.locator('.left')).not.toContainText('Lamp cues');
  await page.keyboard.press('Control+z');
  await settled(page);
  await expect(page.locator('.left')).toContainText('Lamp cues');
  await page
    .locator('.source', { hasText: 'procession cues.mid' })
    .locator('.n-select')
    .first()
    .click();
  await page.getByText('a file of its own', { exact: true }).last().click();
  await settled(page);
  // Two files now: the one that is on the sheet can be chosen.
  await expect(page.locator('.docket .piece')).toBeVisible();
});
