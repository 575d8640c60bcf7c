import { expect, type Page } from '@playwright/test';
import { otherSound, RATE, type Played } from '../bench/align/other-sound';
import { smf, Track } from '../demo/song';
import { writeWave } from '../src/core/sound/render';
import { madeUpTune, type Sung } from '../testing/render-tune';
import { drop, openAt, settled, stage, test } from './desk';

/*
 * From the drop of a song and of a recording with other sounds to a drift of about nothing. The
 * recording begins later, runs at another tempo, changes its tempo, lacks bars, or is of another song.
 */

const BPM = 112;
const BARS = 16;
const BAR_MS = 240_000 / BPM;
const PPQ = 384;
const tune = madeUpTune(5, { bars: BARS, bpm: BPM });

function song(notes: readonly Sung[]): Uint8Array {
  const [line, kit] = [new Track('Line').tempo(0, BPM).meter(0, 4, 4), new Track('Kit')];
  for (const { ms, lengthMs, key, velocity, drum } of notes) {
    const [at, length] = [ms, lengthMs].map((t) => Math.round((t * BPM * PPQ) / 60_000));
    (drum ? kit : line).note(drum ? 10 : 1, at!, Math.max(1, length!), key, velocity);
  }
  return smf(1, PPQ, [line, kit]);
}

/** As another band plays it: notes that `at` answers with null are not played. */
function recording(at: (ms: number) => number | null, of: readonly Sung[] = tune): Uint8Array {
  const played = of.flatMap((n): Played[] => {
    const ms = at(n.ms);
    return ms === null ? [] : [{ ...n, ms, drum: n.drum ?? false, program: 27 }];
  });
  const lengthMs = Math.max(...played.map((n) => n.ms + n.lengthMs)) + 700;
  return writeWave({ rate: RATE, channels: [otherSound(played, lengthMs)] }, 16).bytes;
}

async function bring(page: Page, wave: Uint8Array) {
  await openAt(page, '/');
  await drop(page, [
    { name: 'pier.mid', bytes: Buffer.from(song(tune)) },
    { name: 'pier.wav', bytes: Buffer.from(wave) },
  ]);
  await expect(page.getByTestId('sound-facts')).toContainText('onsets', { timeout: 30_000 });
  await stage(page, 'Timing').click();
  await page
    .getByRole('tablist', { name: 'Timing' })
    .getByRole('tab', { name: 'Line up', exact: true })
    .click();
}
const lined = (page: Page) => page.getByTestId('lined-up');
const button = (page: Page, name: RegExp) => page.getByRole('button', { name });
const isFirst = (page: Page, name: RegExp) =>
  expect(button(page, name).first()).toHaveClass(/n-button--primary-type/);

/** The drift over all of the song, in milliseconds, by what the plot says of it. */
async function expectFlat(page: Page, withinMs: number) {
  await settled(page);
  await expect(lined(page)).toHaveText('Score and recording begin together.', { timeout: 20_000 });
  const said = await page.locator('.drift svg').first().getAttribute('aria-label');
  // `from −3 ms to 12 ms, …`, or `2 ms all along` where it is one number.
  const told = said!.match(/−?\d+(?= ms)/g) ?? [];
  expect(told.length, said!).toBeGreaterThan(0);
  for (const ms of told)
    expect(Math.abs(Number(ms.replace('−', '-'))), said!).toBeLessThanOrEqual(withinMs);
}

test('a recording that begins later: one button, and both lie together', async ({ page }) => {
  await bring(
    page,
    recording((ms) => ms + 3210),
  );
  await expect(lined(page)).toHaveText(/first note 3\.2[01]\d? s later\.$/);
  await isFirst(page, /^Move the score 3\.2/);
  await button(page, /^Move the score 3\.2/)
    .first()
    .click();
  await expectFlat(page, 28);
});

test('one that runs six per cent slower: the tempo is fitted first', async ({ page }) => {
  await bring(
    page,
    recording((ms) => ms * 1.06 + 640),
  );
  await expect(lined(page)).toHaveText(/It runs (6|5\.99\d?|6\.00\d?) % slower/);
  await isFirst(page, /^Fit the tempo to it/);
  await button(page, /^Fit the tempo to it/).click();
  await expectFlat(page, 30);
});

test('one whose tempo changes: fitted along it, and the drift is measured again', async ({
  page,
}) => {
  await bring(
    page,
    recording((ms) => 1500 + ms + 700 * Math.sin(ms / 8000)),
  );
  await expect(lined(page)).toHaveText(/tempo of the recording wanders/);
  await isFirst(page, /^Fit the tempo along it/);
  await button(page, /^Fit the tempo along it/).click();
  await expectFlat(page, 40);
});

test('one that lacks bars: they are named, and cut out of the score', async ({ page }) => {
  const [from, to] = [6 * BAR_MS - 1, 10 * BAR_MS - 1];
  await bring(
    page,
    recording((ms) => (ms < from ? ms + 30 : ms < to ? null : ms - 4 * BAR_MS + 30)),
  );
  await expect(lined(page)).toContainText('The recording lacks bars 7 to 10 of the score.');
  await isFirst(page, /^Cut bars 7 to 10 out of the score/);
  await button(page, /^Cut bars 7 to 10/).click();
  await settled(page);
  await expect(lined(page)).not.toContainText('lacks', { timeout: 20_000 });
  await button(page, /^Move the score/)
    .first()
    .click();
  await expectFlat(page, 28);
});

test('one of another song is told, and no button is first', async ({ page }) => {
  await bring(
    page,
    recording((ms) => ms + 500, madeUpTune(13, { bars: BARS, bpm: 97 })),
  );
  await expect(lined(page)).toHaveText('This does not seem to be a recording of this score.', {
    timeout: 20_000,
  });
  await expect(page.locator('.desk .n-button--primary-type')).toHaveCount(0);
});
