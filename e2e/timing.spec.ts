import { expect, type Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import { sing } from '../demo/sing';
import { decodeWave } from '../src/core/sound/decode-wave';
import { writeWave } from '../src/core/sound/render';
import { drop, openDemo, settled, stage, test, unfold } from './desk';

const tab = (page: Page, name: string) =>
  page.getByRole('tablist', { name: 'Timing' }).getByRole('tab', { name, exact: true });
const lined = (page: Page) => page.getByTestId('lined-up');
const drift = (page: Page) => page.locator('.drift svg').first();

async function openTiming(page: Page, job: string, of: string) {
  await openDemo(page, job);
  await stage(page, 'Timing').click();
  await tab(page, of).click();
}

test('a recording whose tempo wanders: followed, fitted smoothly, put to its place', async ({
  page,
}) => {
  await openTiming(page, 'Harbour office tempo', 'Line up');
  await expect(lined(page)).toHaveText(/tempo of the recording wanders/, { timeout: 20_000 });
  await page.getByRole('button', { name: 'From what was found' }).click();
  await settled(page);
  await expect(page.locator('.anchors li').first()).toBeVisible();
  // Anchors are kept before they are used: nothing has moved yet.
  await expect(page.locator('.docket')).toContainText('22 tempos');
  await page.getByRole('button', { name: 'Fit it smoothly' }).click();
  await expect(page.getByTestId('fitted')).toContainText('Fitted smoothly');
  await page.getByRole('button', { name: /^Move the score 0\.(78|79)\d? s later/ }).click();
  await expect(lined(page)).toHaveText('Score and recording begin together.');
  const offs = await page.locator('.anchors .off').allTextContents();
  for (const off of offs)
    expect(Math.abs(parseInt(off.replace('−', '-'), 10))).toBeLessThanOrEqual(2);
  // One that does not count is passed over, and one that is removed is gone.
  await page
    .getByRole('checkbox', { name: /counts$/ })
    .nth(1)
    .uncheck();
  await settled(page);
  await expect(page.locator('.anchors li.out')).toHaveCount(1);
  await page
    .getByRole('button', { name: /^Remove the anchor/ })
    .nth(1)
    .click();
  await settled(page);
  await expect(page.locator('.anchors li')).toHaveCount(offs.length - 1);
});

test('cues by ear: two fingers, one step for all, each undone singly', async ({ page }) => {
  await openTiming(page, 'Turn of the tide', 'Cues');
  const cues = page.getByRole('listbox', { name: 'Cues' });
  await expect(cues.getByRole('option').first()).toBeVisible();
  await cues.focus();
  // Heard round and round; the next one is heard at once; a step is one key.
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Stop', exact: true }).first()).toBeVisible();
  await expect
    .poll(async () => (await page.getByTestId('clock').textContent()) !== '0:00.000')
    .toBe(true);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('.');
  await page.keyboard.press('.');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Shift+<');
  await expect(page.getByTestId('cues-moved')).toHaveText('2 cues moved.');
  await expect(cues.getByRole('option').nth(1)).toContainText('+20');
  await expect(cues.getByRole('option').nth(2)).toContainText('−100');
  // Set to now, while it plays.
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('t');
  await expect(page.getByTestId('cues-moved')).toHaveText('3 cues moved.');
  await page.keyboard.press('Escape');
  await settled(page);

  await stage(page, 'Proof').click();
  await page.getByRole('tab', { name: /Plan/ }).click();
  await expect(page.locator('.steps .says').last()).toContainText(/^Notes by hand|3 notes by hand/);
  await page.locator('.lines summary').click();
  await expect(page.locator('.lines li')).toHaveCount(3);
  await page.getByRole('button', { name: /^Undo: .*\+20 ms$/ }).click();
  await settled(page);
  await expect(page.locator('.lines li')).toHaveCount(2);
});

test('a cue goes onto the nearest onset by one key, and the drift says so', async ({ page }) => {
  await openTiming(page, 'Horns at dusk', 'Cues');
  const cues = page.getByRole('listbox', { name: 'Cues' });
  await cues.focus();
  await unfold(page, 'Drift');
  await expect(drift(page)).toHaveAttribute('aria-label', / to 19 ms,/);
  // The one that is furthest from where it is heard.
  const far = cues.getByRole('option').filter({ hasText: /\+19$/ });
  await far.click();
  await page.keyboard.press('o');
  await expect(page.getByTestId('cues-moved')).toHaveText('1 cue moved.');
  await settled(page);
  await expect(far).toHaveCount(0);
  await expect(drift(page)).toHaveAttribute('aria-label', / to (\d|1[0-8]) ms,/);
});

test('cues are tapped in with their labels, and a part leads by a number', async ({ page }) => {
  await openTiming(page, 'Horns at dusk', 'Cues');
  await page.getByText('Tap in').click();
  await page.getByLabel('Labels of cues that are tapped in').fill('First steam\nSecond steam');
  const cues = page.getByRole('listbox', { name: 'Cues' });
  const before = await page.getByText(/^\d+ cues; columns/).textContent();
  await cues.focus();
  await page.keyboard.press('t');
  await settled(page);
  await expect(page.getByText(/^\d+ cues; columns/)).not.toHaveText(before!);
  await expect(cues.getByRole('option').first()).toContainText('First steam');
  await expect(page.getByLabel('Labels of cues that are tapped in')).toHaveValue('Second steam');
  const lead = page.getByLabel('Lead of the part in milliseconds');
  await lead.fill('300');
  await lead.press('Tab');
  await settled(page);
  await expect(lead).toHaveValue('300');
  await stage(page, 'Proof').click();
  await page.getByRole('tab', { name: /Plan/ }).click();
  await expect(page.locator('.steps .says').last()).toContainText('-300 ms later');
});

test('recordings of other kinds; one that is broken says so and nothing is lost', async ({
  page,
}) => {
  await openTiming(page, 'Horns at dusk', 'Time');
  await expect(page.getByTestId('sound-facts')).toContainText(/5\d onsets/);
  await drop(page, [{ name: 'broken.flac', bytes: Buffer.from('fLaC and nothing more') }]);
  await expect(page.getByRole('alert')).toContainText(
    'broken.flac: This FLAC file could not be decoded',
  );
  await expect(page.getByTestId('sound-facts')).toContainText(/5\d onsets/);
  for (const kind of ['flac', 'mp3', 'ogg', 'opus']) {
    const bytes = readFileSync(`testing/sounds/quay.${kind}`);
    await drop(page, [{ name: `quay.${kind}`, bytes }]);
    await expect(page.getByText(`quay.${kind}`)).toBeVisible();
    await expect(page.getByTestId('sound-facts')).toContainText(
      kind === 'opus' ? '48 kHz' : '22.05 kHz',
    );
  }
});

test('what the plan does to the sound is in the WAV that is handed over; sounds are made', async ({
  page,
}) => {
  await openTiming(page, 'Horns at dusk', 'Sound');
  await expect(page.getByTestId('sound-length')).toContainText('0:45.111 long');
  await page.locator('.desk .n-select').first().click();
  await page.getByText('Sound later or earlier').click();
  await page.getByLabel('Milliseconds later').fill('1500');
  await page.getByLabel('Milliseconds later').press('Tab');
  await page.getByRole('button', { name: 'Add to the plan' }).click();
  await expect(page.getByTestId('sound-length')).toContainText('0:46.611 long, after 1 change');

  const click = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Make and save' }).click();
  const made = decodeWave(new Uint8Array(readFileSync(await (await click).path()))).samples!;
  const frames = Math.round(44.2105263 * 44_100);
  expect(Math.abs(made.channels[0]!.length - frames)).toBeLessThanOrEqual(1);

  await stage(page, 'Handover').click();
  const download = page.waitForEvent('download');
  await page.locator('.docket').getByRole('button', { name: 'Hand over', exact: true }).click();
  await page.getByRole('button', { name: 'Hand over anyway' }).click();
  const pack = unzipSync(new Uint8Array(readFileSync(await (await download).path())));
  const { samples } = decodeWave(pack['horns-at-dusk.wav']!);
  const came = decodeWave(new Uint8Array(readFileSync('public/demo/horns-at-dusk.wav'))).samples!;
  expect(samples!.channels[0]!.length).toBe(came.channels[0]!.length + 33_075);
  expect(Math.max(...samples!.channels[0]!.subarray(0, 33_000))).toBe(0);
});

test('the seam: candidates with reasons, heard alone, gone round there', async ({ page }) => {
  await openTiming(page, 'Last ferry waltz', 'Seam');
  const seams = page.getByRole('listbox', { name: 'Seams' });
  await expect(seams.getByRole('option').first()).toContainText(/bar \d+ is as bar \d+/);
  await seams.focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Stop', exact: true }).last()).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await expect(seams.getByRole('option').nth(1)).toHaveAttribute('aria-selected', 'true');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Go round there' }).click();
  await settled(page);
  await expect(page.locator('.docket')).toContainText(/\d+ bars/);
  await expect(page.locator('.row')).not.toHaveCount(0);
});

test('a song and its recording dropped together lie beside each other at once', async ({
  page,
}) => {
  await page.goto('/');
  const notes = [0, 300, 480, 900, 1110, 1920, 2040, 2700].map((tick) => ({
    ms: 2000 + (tick * 500) / 480,
    lengthMs: 200,
    key: 60,
    velocity: 100,
  }));
  const { smf, Track } = await import('../demo/song');
  const track = new Track('Line').tempo(0, 120).meter(0, 4, 4);
  for (const tick of [0, 300, 480, 900, 1110, 1920, 2040, 2700]) track.note(1, tick, 200, 60, 100);
  await drop(page, [
    { name: 'quay.mid', bytes: Buffer.from(smf(0, 480, [track])) },
    { name: 'quay.wav', bytes: Buffer.from(writeWave(sing(notes), 16).bytes) },
  ]);
  await expect(page.getByTestId('sound-facts')).toContainText('first sound at 0:02.000');
  await stage(page, 'Timing').click();
  await tab(page, 'Line up').click();
  await expect(lined(page)).toHaveText(/2 s later: 1 bar\./);
});

test('the wave is dragged under the notes; another export is held against what is delivered', async ({
  page,
}) => {
  await openDemo(page, 'Horns at dusk');
  await stage(page, 'Timing').click();
  await unfold(page, 'Drift');
  const choosing = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'against another export…' }).click();
  await (await choosing).setFiles('demo/lantern-week/horns-at-dusk.mid');
  const told = page.getByRole('status').filter({ hasText: 'horns-at-dusk.mid has' });
  await expect(told).toContainText('the same music');

  await page.getByRole('tab', { name: 'Line up' }).click();
  const strip = page.getByRole('slider', { name: 'The wave under the notes' });
  const edges = (await strip.boundingBox())!;
  await page.mouse.move(edges.x + edges.width / 2, edges.y + 60);
  await page.mouse.down();
  await page.mouse.move(edges.x + edges.width / 2 + 30, edges.y + 60, { steps: 3 });
  await page.mouse.up();
  const dragged = Number(await strip.getAttribute('aria-valuenow'));
  expect(dragged).toBeGreaterThan(200);
  await strip.press('ArrowLeft');
  await expect(strip).toHaveAttribute('aria-valuenow', String(dragged - 5));
  const seconds = String((dragged - 5) / 1000);
  await page.getByRole('button', { name: `Move the notes ${seconds} s earlier` }).click();
  await settled(page);
  await expect(strip).toHaveAttribute('aria-valuenow', '0');
  // The score went earlier: by so much the other export is later now.
  await expect(told).toContainText(`all ${seconds} s later`);
});
