import { madeUpTune, renderTune } from '../../../../testing/render-tune';
import { factsOf } from '../../sound/facts';
import { lengthMs } from '../../sound/samples';
import { loose, looseMs, looseFrom, BAR } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith, song, conductor, Track } from '../../../../testing/score-builder';
import { soundApart } from './sound-apart';

const BPM = 120;
const BAR_MS = 2000;
const tune = madeUpTune(8, { bars: 16, bpm: BPM });
const ticks = (ms: number) => Math.round((ms * 480) / 500);
const long = (() => {
  const [line, drums] = [new Track('Line'), new Track('Kit')];
  for (const n of tune) {
    const track = n.drum ? drums : line;
    track.note(n.drum ? 10 : 1, ticks(n.ms), Math.max(1, ticks(n.lengthMs)), n.key, n.velocity);
  }
  return song([conductor(BPM), line, drums], { endTick: 16 * BAR });
})();

/** The tune as a recording has it: each note where it is said, more than once or not at all. */
function recorded(at: (ms: number) => number[]) {
  const played = tune.flatMap((n) => at(n.ms).map((ms) => ({ ...n, ms })));
  const samples = renderTune(
    played.sort((a, b) => a.ms - b.ms),
    { rate: 16_000, noiseDb: 30, echo: true, seed: 4 },
  );
  const { firstMs, lastMs, onsets, features } = factsOf(samples);
  return { ms: lengthMs(samples), heard: { firstMs, lastMs, onsets, features } };
}
const lacking = recorded((ms) => {
  if (ms < 6 * BAR_MS - 1) return [ms + 400];
  return ms < 10 * BAR_MS - 1 ? [] : [ms - 4 * BAR_MS + 400];
});
const again = recorded((ms) => {
  if (ms < 6 * BAR_MS - 1) return [ms];
  return ms < 10 * BAR_MS - 1 ? [ms, ms + 4 * BAR_MS] : [ms + 4 * BAR_MS];
});

const other = (() => {
  const samples = renderTune(madeUpTune(13, { bars: 16, bpm: 97 }), { rate: 16_000, seed: 4 });
  const { firstMs, lastMs, onsets, features } = factsOf(samples);
  return { ms: lengthMs(samples), heard: { firstMs, lastMs, onsets, features } };
})();

const openWithSound = targetWith({
  seats: [],
  outputs: [{ writer: 'smf' }, { writer: 'sound' }],
});
const withSoundOut = targetWith({ outputs: [{ writer: 'smf' }, { writer: 'sound' }] });

testRule(soundApart, {
  valid: [
    {
      name: 'together but for the hand',
      target: withSoundOut,
      source: song(loose),
      sound: { ms: 9000, onsets: looseMs.map((ms, i) => ms + (i % 3) * 6) },
    },
    {
      name: 'whole bars apart at the start: a finding of its own',
      target: withSoundOut,
      source: song(loose),
      sound: { ms: 9000, onsets: looseMs.map((ms) => ms + 2000) },
    },
    { name: 'nothing was heard', target: withSoundOut, source: song(loose), sound: { ms: 9000 } },
    {
      name: 'another song',
      target: withSoundOut,
      source: song(loose),
      sound: { ms: 9000, onsets: [300, 950, 2120, 3870, 5555, 7321] },
    },
  ],
  invalid: [
    {
      name: 'the recording begins later',
      code: 'sound-apart',
      severity: 'caution',
      target: withSoundOut,
      source: song(loose),
      sound: { ms: 9000, onsets: looseMs.map((ms) => ms + 310) },
      measured: 310,
      lossless: [true, true],
    },
    {
      name: 'the recording begins earlier than the score, and only the score can move',
      code: 'sound-apart',
      target: targetWith({}),
      source: song([conductor(), looseFrom(BAR)]),
      sound: { ms: 9000, onsets: looseMs.map((ms) => ms + 1555) },
      measured: -445,
    },
    {
      name: 'the score begins at once and the sound comes first',
      code: 'sound-apart',
      target: withSoundOut,
      source: song(loose),
      sound: { ms: 9000, onsets: looseMs.filter((ms) => ms >= 200).map((ms) => ms - 180) },
      measured: -180,
    },
    {
      name: 'four per cent slower',
      code: 'sound-other-tempo',
      target: openWithSound,
      source: long,
      sound: recorded((ms) => [ms * 1.04 + 700]),
    },
    {
      name: 'a tempo that changes all the time',
      code: 'sound-wanders',
      target: openWithSound,
      source: long,
      sound: recorded((ms) => [1500 + ms + 900 * Math.sin(ms / 9000)]),
    },
    {
      name: 'four bars are not in it',
      code: 'sound-lacks',
      target: openWithSound,
      source: long,
      sound: lacking,
    },
    {
      name: 'four bars are not in it, and the sound is not delivered',
      code: 'sound-lacks',
      target: targetWith({ seats: [] }),
      source: long,
      sound: lacking,
    },
    {
      name: 'four bars are in it twice',
      code: 'sound-adds',
      target: openWithSound,
      source: long,
      sound: again,
    },
    {
      name: 'four bars are in it twice, and the sound is not delivered',
      code: 'sound-adds',
      target: targetWith({ seats: [] }),
      source: long,
      sound: again,
    },
    {
      name: 'of another song',
      code: 'sound-other',
      target: openWithSound,
      source: long,
      sound: other,
    },
  ],
});
