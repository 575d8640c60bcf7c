import { describe, expect, it } from 'vitest';
import { week } from '../../../demo/week';
import {
  conductor,
  renditionOf,
  song,
  sourceFromBytes,
  weekSource,
  Track,
} from '../../../testing/score-builder';
import { proof, tallyOf } from '../rules/proof';
import { learnTarget } from './learn';
import { slugOf } from '../target/words';
import { builtInTargets } from '../target/index';
import { runs, strictnessOf } from '../target/strictness';
import { baseOf } from '../plan/base';

const quiet = (track: Track, bars: number) => song([conductor(), track], { endTick: 1920 * bars });

describe('a target learnt from files', () => {
  it('accepts every file that it was learnt from', () => {
    for (const sources of [
      week.filter((j) => j.id !== 'demo-torn-page').map((j) => weekSource(j)),
      ...week.map((j) => [weekSource(j)]),
      [song([conductor()])],
    ]) {
      const { target } = learnTarget(sources, 'Learnt');
      for (const source of sources) {
        const findings = proof({
          rendition: renditionOf(source, target),
          target,
          base: baseOf(source),
        });
        const stops = findings.filter((f) => f.severity === 'stop' && f.rule !== 'stuck-note');
        expect(
          stops.map((f) => f.key),
          source.name,
        ).toEqual([]);
      }
    }
  });
  it('and refuses what goes one beyond', () => {
    const good = quiet(new Track('Bells').note(3, 1920, 480, 60, 80).note(3, 2880, 240, 67, 90), 3);
    const { target, learnt } = learnTarget([good], 'Small bells');
    expect(target).toMatchObject({
      id: 'small-bells',
      seats: [{ channel: 3, name: 'Bells' }],
      start: { leadInBars: 1 },
      end: { leastBars: 3, mostBars: 3 },
      velocity: { lowest: 80, highest: 90 },
      tempo: { constant: true, lowestBpm: 120, highestBpm: 120 },
      events: { controllers: 'none', programs: 'none' },
    });
    expect(learnt).toContain('velocity.lowest');
    const bad = quiet(new Track('Bells').note(3, 1919, 480, 60, 79).note(3, 2880, 240, 68, 90), 4);
    const findings = proof({ rendition: renditionOf(bad, target), target, base: baseOf(bad) });
    const codes = findings.filter((f) => f.severity === 'stop').map((f) => f.code);
    expect(codes.sort()).toEqual([
      'bars-not-allowed',
      'out-of-range',
      'rest-owed',
      'velocity-range',
    ]);
    expect(tallyOf(findings).stops).toBe(4);
  });
  it('one name on several channels is the name of none', () => {
    const one = new Track('Track 1').note(1, 0, 480, 60, 80).note(2, 480, 480, 62, 80);
    const { target } = learnTarget([quiet(one, 2)], 'One track');
    expect(target.seats.map((s) => s.name)).toEqual(['Channel 1', 'Channel 2']);
  });
  it('every path that is said to be learnt is there', () => {
    const { target, learnt } = learnTarget([sourceFromBytes(week[0]!.bytes())], 'One');
    for (const path of learnt) {
      const value = path
        .split('.')
        .reduce<unknown>((at, key) => (at as Record<string, unknown>)?.[key], target);
      expect(value, path).toBeDefined();
    }
  });
  it('ids are made of names', () => {
    expect(slugOf('Über die Brücke!')).toBe('u-ber-die-bru-cke');
    expect(slugOf('…')).toBe('target');
  });
});

describe('strictness in lines', () => {
  it('says every block of every built-in target', () => {
    for (const target of builtInTargets) {
      const lines = strictnessOf(target);
      for (const { says } of lines) expect(says).not.toMatch(/undefined|NaN|\[object|null/);
      const said = new Set(lines.map((l) => l.block));
      const silent = [
        'schemaVersion',
        'id',
        'version',
        'name',
        'summary',
        'words',
        'outputs',
        'standIn',
        'checklist',
        'seating',
        'seats',
      ];
      for (const block of Object.keys(target))
        if (!silent.includes(block))
          expect(said.has(block as never), `${target.id}.${block}`).toBe(true);
    }
  });
  it('draws runs together', () => {
    expect(runs([24, 25, 26, 48, 50, 51])).toBe('24–26, 48, 50, 51');
  });
});

it('what files hold beyond the bounds of a target is not learnt, and nothing breaks', () => {
  const hour = 3_600_000;
  const long = song(
    [
      new Track().tempo(0, 1500).tempo(960, 60).meter(0, 4, 4),
      // A note of over an hour, and over 10,000 bars.
      new Track('A').note(1, 0, 4 * hour, 60, 90),
    ],
    { ppq: 480, endTick: 1920 * 10_500 },
  );
  const { target, learnt } = learnTarget([long], 'Long');
  expect(target.notes).toBeDefined();
  for (const path of learnt) {
    const [block, key] = path.split('.') as [keyof typeof target, string?];
    const value = target[block] as Record<string, unknown>;
    expect(key === undefined ? value : value?.[key], path).toBeDefined();
  }
  expect(target.length?.longestMs).toBeUndefined();
  expect(target.end?.mostBars).toBeUndefined();
});
