import { expect, it } from 'vitest';
import { testRule } from '../../../../testing/rule-tester';
import {
  builtIn,
  conductor,
  renditionOf,
  song,
  targetWith,
  Track,
} from '../../../../testing/score-builder';
import { baseOf } from '../../plan/base';
import { proof } from '../proof';
import { chords } from './chords-together';

const pads = builtIn('pattern-pads');
const padPiece = (...list: [number, number][]) => {
  const track = new Track('Pad');
  for (const [tick, key] of list) track.note(6, tick, 200, key, 90);
  return song([conductor(), track]);
};

testRule(chords, {
  valid: [
    {
      name: 'within 5 ms, with a pluck key',
      target: pads,
      source: padPiece([0, 24], [4, 60], [4, 64]),
    },
    {
      name: 'one note of the zone is no chord',
      target: pads,
      source: padPiece([0, 60], [480, 62]),
    },
  ],
  invalid: [
    {
      name: 'five ticks are 5.2 ms',
      code: 'chord-spread',
      target: pads,
      source: padPiece([0, 24], [0, 60], [5, 64]),
      measured: 5.208,
      notes: 2,
    },
    {
      name: 'no pluck key',
      code: 'trigger-missing',
      target: pads,
      source: padPiece([0, 60], [0, 64]),
      notes: 2,
    },
    {
      name: 'a pluck key 5.2 ms early',
      code: 'trigger-missing',
      target: pads,
      source: padPiece([0, 24], [5, 60], [5, 64]),
    },
  ],
});

it.each([
  ['the lowest that the seat takes', { lowest: 26 }, ['Add a trigger key to each', 26]],
  ['none where it takes none', { lowest: 40 }, ['Leave the chords out', undefined]],
])('the trigger that is added is %s', (_, accepts, expected) => {
  const target = targetWith({
    seats: [{ kind: 'channel', id: 'pad', name: 'Pad', channel: 6, accepts }],
    grid: pads.grid,
  });
  const source = padPiece([0, 60], [0, 64]);
  const findings = proof({ rendition: renditionOf(source, target), target, base: baseOf(source) });
  const [first] = findings.find((f) => f.code === 'trigger-missing')!.mends;
  expect([first!.title, (first!.steps[0]!.params as { key?: number }).key]).toEqual(expected);
});
