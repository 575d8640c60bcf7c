import { describe, expect, it } from 'vitest';
import { builtInTargets } from './index';
import { parseTarget } from './parse';

const plain = {
  schemaVersion: 1,
  id: 'quay-box',
  version: '1.0.0',
  name: 'Quay box',
  summary: 'For a test',
  seats: [{ kind: 'channel', id: 'one', name: 'One', channel: 1 }],
  outputs: [{ writer: 'smf' }],
  checklist: [],
};
const problems = (over: Record<string, unknown>) =>
  parseTarget({ ...plain, ...over }).problems.map((p) => `${p.path}: ${p.says}`);

describe('what contradicts itself is said when a target is read', () => {
  it.each([
    ['velocity', { velocity: { lowest: 100, highest: 20 } }, /^velocity\.lowest: .*100.*20/],
    ['tempo', { tempo: { lowestBpm: 140, highestBpm: 90 } }, /^tempo\.lowestBpm/],
    ['bars', { end: { leastBars: 9, mostBars: 8 } }, /^end\.leastBars/],
    ['length', { length: { shortestMs: 50, longestMs: 20 } }, /^length\.shortestMs/],
    ['trigger', { grid: { triggerLowest: 40, triggerHighest: 30 } }, /^grid\.triggerLowest/],
    ['ppq', { file: { ppq: { lowest: 960, highest: 480 } } }, /^file\.ppq\.lowest/],
    [
      'a seat',
      { seats: [{ ...plain.seats[0], accepts: { lowest: 70, highest: 60 } }] },
      /^seats\[0\]\.accepts\.lowest/,
    ],
    ['a writer', { outputs: [{ writer: 'smff' }] }, /^outputs\[0\]\.writer: There is no writer/],
    [
      'an option',
      { outputs: [{ writer: 'time-list', options: { decimal: 'dot' } }] },
      /^outputs\[0\]\.options\.decimal/,
    ],
    [
      'an option it does not have',
      { outputs: [{ writer: 'smf', options: { decimal: 'comma' } }] },
      /^outputs\[0\]\.options\.decimal/,
    ],
    ['a stand-in', { standIn: 'piano' }, /^standIn: There is no stand-in/],
    [
      'a crossing to nowhere',
      {
        seats: [
          { kind: 'file', id: 'r', name: 'R', fileName: 'r.mid', plays: 'round' },
          { kind: 'file', id: 'x', name: 'X', fileName: 'x.mid', plays: 'crossing', from: 'r' },
        ],
      },
      /^seats\[1\]\.to/,
    ],
  ])('%s', (_, over, expected) => {
    expect(problems(over)).toEqual([expect.stringMatching(expected)]);
  });
  it('equal bounds are in order, and so are all targets that ship', () => {
    expect(problems({ velocity: { lowest: 64, highest: 64 } })).toEqual([]);
    for (const target of builtInTargets) expect(parseTarget(target).problems).toEqual([]);
  });
});
