import { loose, looseMs, looseFrom, BAR } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { targetWith, song, conductor } from '../../../../testing/score-builder';
import { soundApart } from './sound-apart';

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
  ],
});
