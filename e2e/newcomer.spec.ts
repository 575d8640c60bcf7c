import { expect } from '@playwright/test';
import { unzipSync } from 'fflate';
import { parseMidi } from 'midi-file';
import { smf, Track } from '../demo/song';
import { alone as test, bytesOf, drop, isFor, note, openDemo, settled, stage, stops } from './desk';

test('the newcomer: open, see, mend, undo, leave as is, reload, hand over', async ({ page }) => {
  await openDemo(page, 'Turn of the tide');
  await expect(stops(page)).toContainText('7 stops');
  // There is ink on the rows.
  const inked = await page
    .locator('.paper canvas')
    .first()
    .evaluate((canvas) => {
      const { width, height } = canvas as HTMLCanvasElement;
      const context = (canvas as HTMLCanvasElement).getContext('2d')!;
      const { data } = context.getImageData(0, 0, width, height);
      let dark = 0;
      for (let i = 0; i < data.length; i += 4) if (data[i + 3]! > 0 && data[i]! < 140) dark++;
      return dark;
    });
  expect(inked).toBeGreaterThan(300);
  // Marks on the sheet and notes in the margin name the same findings.
  await expect(
    page.getByRole('button', { name: /^Note 1, stop: Rest missing at the start/ }),
  ).toBeVisible();
  await note(page, 'rest-owed').getByRole('button', { name: 'Put back 3 bars of rest' }).click();
  await expect(note(page, 'rest-owed')).toHaveCount(0);
  await expect(page.locator('.docket')).toContainText('first note 4.1');
  await page.keyboard.press('Control+z');
  await expect(note(page, 'rest-owed')).toHaveCount(1);
  await page.keyboard.press('Control+Shift+z');
  await expect(note(page, 'rest-owed')).toHaveCount(0);

  // Everything that loses nothing, as one change.
  await page.getByRole('button', { name: /^Mend what loses nothing/ }).click();
  await expect(stops(page)).toContainText('3 stops');
  await page.getByRole('tab', { name: /Plan/ }).click();
  await expect(page.getByText('Hold clock time at 96 BPM')).toBeVisible();
  await page.getByRole('tab', { name: 'Margin notes' }).click();

  // A lossy one says what it costs.
  await note(page, 'too-close')
    .getByRole('button', { name: /Notes too close together/ })
    .click();
  await expect(note(page, 'too-close')).toContainText(/drops 2 of \d+ notes/);

  await note(page, 'too-short').getByRole('button', { name: 'Leave as is…' }).click();
  await page.getByRole('textbox', { name: 'Reason to leave it as is' }).fill('A blink is wanted');
  await page.keyboard.press('Enter');
  await expect(note(page, 'too-short')).toContainText('Left as is: A blink is wanted');
  await expect(stops(page)).toContainText('2 stops');

  // What was done is there after a reload.
  await settled(page);
  await page.reload();
  await settled(page);
  await expect(stops(page)).toContainText('2 stops');
  await expect(note(page, 'too-short')).toContainText('A blink is wanted');

  await note(page, 'at-once')
    .getByRole('button', { name: /^Shorten overlaps/ })
    .click();
  await expect(note(page, 'at-once')).toHaveCount(0);
  await note(page, 'too-close')
    .getByRole('button', { name: 'Keep the beats, drop the weakest' })
    .click();
  await expect(stops(page)).not.toContainText('stop');

  await stage(page, 'Handover').click();
  const waiting = page.waitForEvent('download');
  await page.locator('.docket').getByRole('button', { name: 'Hand over', exact: true }).click();
  const download = await waiting;
  expect(download.suggestedFilename()).toBe('turn-of-the-tide-lantern-rail-1.zip');
  await expect(page.getByTestId('handover-files')).toContainText('read back, the same');

  const files = unzipSync(await bytesOf(download));
  expect(Object.keys(files).sort()).toEqual([
    'receipt.html',
    'receipt.json',
    'turn-of-the-tide-times.csv',
    'turn-of-the-tide.mid',
  ]);
  // An independent reader sees what the rail asks for.
  const midi = parseMidi(files['turn-of-the-tide.mid']!);
  expect(midi.header.format).toBe(1);
  const tempos = midi.tracks.flat().filter((e) => e.type === 'setTempo');
  expect(tempos).toHaveLength(1);
  const cueTracks = midi.tracks.filter((t) => t.some((e) => e.type === 'noteOn'));
  expect(cueTracks).toHaveLength(1);
  let tick = 0;
  let first = -1;
  for (const e of cueTracks[0]!) {
    tick += e.deltaTime;
    if (e.type === 'noteOn' && first < 0) first = tick;
    if (e.type === 'noteOn') expect(e.channel).toBe(15);
  }
  expect(first).toBe(3 * 3 * midi.header.ticksPerBeat!);
  const receipt = JSON.parse(new TextDecoder().decode(files['receipt.json']));
  expect(receipt).toMatchObject({
    handover: 1,
    commonShiftMs: 5625,
    findingsAfter: { stops: 0, leftAsIs: 1 },
    leftAsIs: [{ reason: 'A blink is wanted' }],
  });
});

const own = () => {
  const conductor = new Track('Own').tempo(0, 100).meter(0, 4, 4);
  const line = new Track('Whistle').program(0, 3, 73);
  for (let i = 0; i < 24; i++) line.note(3, i * 480, 400, [52, 53, 55, 57, 59][i % 5]!, 90);
  return { name: 'own-tune.mid', bytes: smf(1, 480, [conductor, line]) };
};

test('a file of their own: dropped, seated, held against another target, handed over', async ({
  page,
}) => {
  await page.goto('/');
  await expect(page.getByRole('heading', { name: 'Nothing is on the desk yet' })).toBeVisible();
  await drop(page, [own()]);
  await settled(page);
  await expect(page.getByRole('heading', { name: 'What came in' })).toBeVisible();
  await expect(page.locator('.side')).toContainText('SMF 1, 480 PPQ');
  // The first question: every target is tried, and says what it would take.
  const question = page.getByRole('region', { name: 'What is it for?' });
  // Before it is answered nothing is judged.
  await expect(stops(page)).toHaveText('not judged yet');
  await expect(page.getByRole('button', { name: /^Note \d+, / })).toHaveCount(0);
  await expect(question.getByText(/keeps every note|fits as it is/).first()).toBeVisible();
  await question.getByRole('button', { name: /^Bell loft striker/ }).click();
  await settled(page);
  await expect(question).toBeHidden();
  await expect(page.locator('.docket')).toContainText('Bell loft striker');
  await stage(page, 'Proof').click();
  await expect(note(page, 'wrong-channel')).toContainText('is on channel 3');
  await note(page, 'out-of-range')
    .getByRole('button', { name: 'Move the part up an octave' })
    .click();
  await expect(note(page, 'out-of-range')).toHaveCount(0);
  // Taken back, so that a stop is open when it is handed over.
  await page.keyboard.press('Control+z');
  await expect(note(page, 'out-of-range')).toHaveCount(1);
  await page.getByRole('button', { name: /^Mend what loses nothing/ }).click();
  await expect(note(page, 'wrong-channel')).toHaveCount(0);
  await stage(page, 'Handover').click();
  await page.locator('.docket').getByRole('button', { name: 'Hand over', exact: true }).click();
  const all = page.getByRole('button', { name: 'Hand over anyway' });
  const waiting = page.waitForEvent('download');
  await all.click();
  const files = unzipSync(await bytesOf(await waiting));
  const midi = parseMidi(files['OWNTUNE.mid']!);
  expect(midi.header.format).toBe(0);
  const receipt = JSON.parse(new TextDecoder().decode(files['receipt.json']));
  expect(receipt.openFindings.length).toBeGreaterThan(0);
});

test('a newer export: the plan runs again and says what no longer fits', async ({ page }) => {
  await page.goto('/');
  await drop(page, [own()]);
  await settled(page);
  await isFor(page, 'Lantern rail');
  await stage(page, 'Seating').click();
  await page.locator('[data-seat]').getByRole('button', { name: 'Cue line' }).click();
  await page.getByRole('button', { name: 'Octave up' }).click();
  await expect(page.locator('.left')).toContainText('→ Cue line');
  const renamed = new Track('Flute');
  for (let i = 0; i < 12; i++) renamed.note(3, 5760 + i * 480, 300, 40, 90);
  const newer = smf(1, 480, [new Track('Own').tempo(0, 100).meter(0, 4, 4), renamed]);
  await drop(page, [{ name: 'own-tune.mid', bytes: newer }]);
  await page.getByRole('button', { name: 'A newer export of this source' }).click();
  await expect(page.locator('.left')).toContainText('Flute');
  await stage(page, 'Proof').click();
  await page.getByRole('tab', { name: /Plan/ }).click();
  await expect(page.getByText('no longer there: Whistle')).toBeVisible();
});

test('bad files: one clear sentence each, nothing that was there is lost', async ({ page }) => {
  await page.goto('/');
  await drop(page, [own()]);
  await settled(page);
  await page.getByRole('link', { name: 'Jobs', exact: true }).click();
  const zero = own().bytes;
  zero[12] = 0;
  zero[13] = 0;
  await drop(page, [
    { name: 'text.mid', bytes: new TextEncoder().encode('Dear diary') },
    { name: 'empty.mid', bytes: new Uint8Array(0) },
    { name: 'zero.mid', bytes: zero },
  ]);
  const alert = page.getByRole('alert');
  await expect(alert).toContainText('text.mid: This is not a MIDI file');
  await expect(alert).toContainText('empty.mid: The file is empty');
  await expect(alert).toContainText('zero.mid: The header says 0 ticks');
  await expect(page.getByRole('link', { name: 'own tune' })).toBeVisible();
  await expect(page.locator('tbody tr')).toHaveCount(1);
  // One that is far too large is refused before anything of it is read.
  await page.evaluate(() => {
    const data = new DataTransfer();
    data.items.add(new File([new Uint8Array(200 * 1024 * 1024)], 'huge.mid'));
    document.body.dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true }));
  });
  await expect(alert).toContainText('huge.mid: The file has 209,715,200 bytes');
});
