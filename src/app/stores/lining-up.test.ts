import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { eventually } from '../../../testing/eventually';
import { beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { recordingOf } from '../../../demo/recordings';
import { atRest, droppedFile, emptyBase, hugeFile, openSong } from '../../../testing/open-job';
import { conductor, smf, Track } from '../../../testing/score-builder';
import { useJob } from './job';
import { useLiningUp } from './lining-up';
import { useOtherExport } from './other-export';
import { useRecording } from './recording';

/** Eight bars at 120 BPM, no two alike: a bar is 2 s. */
const keys = [60, 64, 67, 62, 69, 65, 71, 60, 72, 67, 64, 70];
function tune(from = 0): Track {
  const track = new Track('Bells');
  let tick = from;
  for (let i = 0; i < 40; i++) {
    track.note(1, tick, 200, keys[(i * 5) % keys.length]!, 70 + ((i * 37) % 50));
    tick += [240, 480, 360, 120, 480, 600][(i * i + i) % 6]!;
  }
  return track;
}
const song = smf(1, 480, [conductor(120), tune()], 8 * 1920);
let takes: { late: Uint8Array; slow: Uint8Array };
beforeAll(() => {
  takes = {
    // Two bars of rest that the export has swallowed.
    late: recordingOf(song, { rest: 4000 }),
    slow: recordingOf(song, { played: (ms) => ms * 1.01 }),
  };
  globalThis.requestIdleCallback ??= ((run: () => void) => setTimeout(run, 0)) as never;
});
beforeEach(async () => {
  setActivePinia(createPinia());
  await emptyBase();
});

async function open(sound: Uint8Array | null) {
  await openSong({
    id: 'late',
    title: 'Late bells',
    file: 'late.mid',
    bytes: song,
    targetId: 'parlour-keyboard',
  });
  const recording = useRecording();
  const lining = useLiningUp();
  if (sound) {
    expect(await recording.bring(droppedFile('late.wav', sound))).toBe(true);
    await atRest();
    await eventually(() => expect(lining.busy).toBeNull());
    await eventually(() => expect(lining.found).not.toBeNull());
  }
  return { recording, lining, job: useJob() };
}

describe('a recording that is brought in', () => {
  it('is measured, kept with the job, and found beside the score: the rest in bars', async () => {
    const { recording, lining, job } = await open(takes.late);
    expect(job.record!.sound).toMatchObject({ name: 'late.wav' });
    const { facts } = recording.listened!;
    expect(facts.firstMs).toBeGreaterThan(3980);
    expect(facts.firstMs).toBeLessThan(4030);
    expect(facts.rate).toBe(22_050);
    expect(lining.found!.reply.offsetMs).toBeGreaterThan(3985);
    expect(lining.found!.reply.offsetMs).toBeLessThan(4015);
    expect(lining.says!.where).toMatch(
      /^The recording has the first note [34][.\d]* s later: 2 bars\./,
    );
    expect(lining.says!.bars).toBe(2);
    // Every match is off by the rest and little more.
    expect(lining.drift.length).toBeGreaterThan(25);
    for (const { off } of lining.drift) expect(Math.abs(off - 4000)).toBeLessThan(40);
  });

  it('once the rest is put back nothing is left over', async () => {
    const { lining, job } = await open(takes.late);
    lining.lookAgain();
    job.addSteps('rest', [{ step: 'rest-at-start', params: { bars: 2 }, scope: {}, on: true }]);
    await atRest();
    await eventually(() => expect(lining.says?.where).toMatch(/begin together/));
    for (const { off } of lining.drift) expect(Math.abs(off)).toBeLessThan(40);
  });

  it('a tempo that differs is told in per cent, taken as two anchors, and fitted', async () => {
    const { lining, job } = await open(takes.slow);
    if (lining.found!.how !== 'tempo') {
      await lining.look('tempo');
    }
    expect(lining.found!.reply.ratio).toBeCloseTo(1.01, 3);
    expect(lining.says!.where).toMatch(/It runs (0\.9\d*|1(\.0\d*)?) % slower\./);
    lining.takeTempo();
    await atRest();
    expect(lining.anchors).toHaveLength(2);
    // Gathered first: nothing is changed before it is asked for.
    expect(lining.step!.on).toBe(false);
    expect(job.shown!.delivered.clock.tempos[0]!.microsecondsPerQuarter).toBe(500_000);
    lining.fit(false);
    await atRest();
    expect(lining.step!.on).toBe(true);
    // Behind the last anchor the tempo is what it was.
    const tempos = job.shown!.delivered.clock.tempos.map((t) => t.microsecondsPerQuarter);
    expect(Math.max(...tempos)).toBeGreaterThan(504_000);
    expect(tempos.at(-1)).toBe(500_000);
    // The tempo passes through both; where the first of them lies is the offset's matter.
    const [first, last] = lining.anchorDrift.map((a) => a.at!.off);
    expect(Math.abs(last! - first!)).toBeLessThan(1);
  });

  it('anchors: set, moved, counted only in some bars, taken away with the step', async () => {
    const { lining, job } = await open(takes.late);
    lining.anchorAt(0, 4000);
    lining.anchorAt(7680, 12_010);
    await atRest();
    expect(lining.anchors).toEqual([
      { tick: 0, us: 4_000_000 },
      { tick: 7680, us: 12_010_000 },
    ]);
    lining.anchorAt(7680, 12_000);
    await atRest();
    expect(lining.anchors.map((a) => a.us)).toEqual([4_000_000, 12_000_000]);
    expect(lining.anchorDrift.map((a) => a.at!.off)).toEqual([4000, 4000]);
    lining.countOnly(1, 2);
    await atRest();
    expect(lining.anchors).toEqual([
      { tick: 0, us: 4_000_000 },
      { tick: 7680, us: 12_000_000, out: true },
    ]);
    lining.fit(false);
    // One that counts is no tempo.
    expect(lining.step!.on).toBe(false);
    lining.setAnchors([], 'None');
    await atRest();
    expect(job.plan!.now.steps).toEqual([]);
    expect(lining.step).toBeNull();
  });

  it('taps on the beat: the first at the nearest beat, each of the others on the next one', async () => {
    const { lining } = await open(takes.late);
    for (const [tap, ms] of [1480, 2010, 2490].entries()) {
      lining.tapBeat(ms);
      await atRest();
      expect(lining.anchors).toHaveLength(tap + 1);
    }
    expect(lining.anchors.map((a) => a.tick)).toEqual([1440, 1920, 2400]);
    expect(lining.anchors.map((a) => a.us)).toEqual([1_480_000, 2_010_000, 2_490_000]);
  });

  it('of what was found one place a bar becomes an anchor, rising in both', async () => {
    const { lining } = await open(takes.late);
    lining.takeMatches();
    await atRest();
    expect(lining.anchors.length).toBeGreaterThan(5);
    expect(lining.anchors.length).toBeLessThanOrEqual(10);
    lining.anchors.forEach((a, i) => {
      const before = lining.anchors[i - 1];
      if (before) expect(a.tick > before.tick && a.us > before.us).toBe(true);
    });
  });

  it('taken away it is gone, and what was found with it', async () => {
    const { recording, lining, job } = await open(takes.late);
    await job.setSound(undefined as never);
    await eventually(() => expect(recording.listened).toBeNull());
    expect(lining.found).toBeNull();
    expect(lining.drift).toEqual([]);
  });
});

describe('a recording that cannot be used', () => {
  it.each([
    ['noise', new Uint8Array(5000).map((_, i) => (i * 7919) & 255)],
    ['nothing', new Uint8Array(0)],
    ['half a head', new TextEncoder().encode('RIFF\u0000\u0000')],
  ])('%s: a sentence, and nothing is changed', async (_, bytes) => {
    const { recording, job } = await open(null);
    const before = job.record;
    expect(await recording.bring(droppedFile('torn.wav', bytes))).toBe(false);
    expect(recording.problem).toMatch(/^torn\.wav: [A-Z].*\.$/);
    expect(job.record).toBe(before);
    expect(recording.busy).toBeNull();
  });

  it('one that is too large is not read', async () => {
    const { recording } = await open(null);
    expect(await recording.bring(hugeFile('long.wav', 600 * 1024 * 1024))).toBe(false);
    expect(recording.problem).toMatch(/larger than 512 MB/);
  });

  it('silence only: nothing of the score is found in it', async () => {
    const { recording, lining } = await open(null);
    const quiet = recordingOf(smf(1, 480, [conductor(120)], 8 * 1920), { noiseDb: 200 });
    expect(await recording.bring(droppedFile('quiet.wav', quiet))).toBe(true);
    await atRest();
    await eventually(() => expect(lining.busy).toBeNull());
    await lining.look('offset');
    expect(lining.found).toBeNull();
    expect(lining.problem).toMatch(/Nothing of the score was found/);
  });
});

describe('another export beside the job', () => {
  it('drifts where its tempo is another; what is no music is said', async () => {
    await open(null);
    const other = useOtherExport();
    await other.take(droppedFile('slower.mid', smf(1, 480, [conductor(118), tune()], 8 * 1920)));
    expect(other.name).toBe('slower.mid');
    const { ms, off, shiftMs } = other.found!;
    expect(ms.length).toBe(40);
    // Slower by a sixtieth: later and later, from where it begins together.
    expect(shiftMs).toBe(0);
    ms.forEach((at, i) =>
      expect(off[i]! - (at * 2) / 118).toBeCloseTo(off[0]! - (ms[0]! * 2) / 118, 0),
    );
    await other.take(droppedFile('letter.txt', new TextEncoder().encode('Dear crew')));
    expect(other.found).toBeNull();
    expect(other.problem).toMatch(/^letter\.txt: This is not a MIDI file/);
    await other.take(hugeFile('heap.mid', 2 ** 40));
    expect(other.problem).toMatch(/^heap\.mid is too large/);
  });
});
