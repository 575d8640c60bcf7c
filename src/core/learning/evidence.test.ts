import { describe, expect, it } from 'vitest';
import { anyTune, dice, sourceOf, type Tune } from '../../../testing/strangers/tune';
import { renditionOf } from '../../../testing/score-builder';
import { baseOf } from '../plan/base';
import { proof } from '../rules/proof';
import { parseTarget } from '../target/parse';
import { settle } from '../target/settle';
import { valueAt, type Data } from '../target/sentences';
import { evidenceOf, sayEvidence } from '../target/evidence';
import { learnTarget } from './learn';

const notesOf = (t: Tune) => t.lines.flatMap((l) => l.notes);
/** The same numbers, taken from the tune as it was made. */
const SHOWN: Record<string, (t: Tune) => readonly number[]> = {
  'notes.lowest': (t) => notesOf(t).map((n) => n.key),
  'notes.highest': (t) => notesOf(t).map((n) => n.key),
  'velocity.lowest': (t) => notesOf(t).map((n) => n.velocity),
  'velocity.highest': (t) => notesOf(t).map((n) => n.velocity),
  'tempo.lowestBpm': (t) => t.tempos.map(([, us]) => Math.round(6e9 / us) / 100),
  'tempo.highestBpm': (t) => t.tempos.map(([, us]) => Math.round(6e9 / us) / 100),
  'tempo.mostEvents': (t) => [t.tempos.length],
  'text.longestMarker': (t) => t.markers.map(([, text]) => [...text].length),
};

describe('what a learnt number rests on', () => {
  it('is what the files show, the nearest first; a round number takes them all as well', () => {
    const told = new Set<string>();
    let rounds = 0;
    for (let seed = 1; seed <= 25; seed++) {
      const roll = dice(seed);
      const tunes = ['tide', 'quay', 'ebb'].map((n) => anyTune(roll, `${n}.mid`, [6, 20]));
      const sources = tunes.map(sourceOf);
      const { target, evidence } = learnTarget(sources, 'Learnt');
      for (const e of evidence) {
        const learnt = valueAt(target as unknown as Data, e.path) as number;
        const [first, second] = e.nearest;
        expect(Math.abs(first!.value - learnt), e.path).toBeLessThan(1);
        const way = e.bound === 'least' ? 1 : -1;
        if (second) expect(way * (second.value - first!.value)).toBeGreaterThanOrEqual(0);
        if (e.round !== null) {
          expect(way * (learnt - e.round), `${e.path} ${e.round}`).toBeGreaterThan(0);
          rounds++;
        }
        const shown = SHOWN[e.path];
        if (!shown) continue;
        told.add(e.path);
        const each = tunes.map(shown).filter((all) => all.length > 0);
        expect(e.files, e.path).toBe(each.length);
        const best = each.map((all) => (way > 0 ? Math.min(...all) : Math.max(...all)));
        const sorted = best.sort((a, b) => way * (a - b));
        expect(e.nearest.map((s) => s.value)).toEqual(sorted.slice(0, 2));
      }
      const looser = settle(
        target as unknown as Data,
        evidence.flatMap((e) => (e.round === null ? [] : [{ path: e.path, value: e.round }])),
      );
      const { target: round, problems } = parseTarget(looser);
      expect(problems).toEqual([]);
      for (const source of sources) {
        const rendition = renditionOf(source, round!);
        const found = proof({ rendition, target: round!, base: baseOf(source) });
        const stops = found.filter((f) => f.severity === 'stop' && f.rule !== 'stuck-note');
        expect(stops.map((f) => f.key)).toEqual([]);
      }
    }
    expect([...told].sort()).toEqual(Object.keys(SHOWN).sort());
    expect(rounds).toBeGreaterThan(50);
  });
  it.each([
    ['start.leadInMs', 'least', 1487, 1400],
    ['start.leadInMs', 'least', 1500, null],
    ['tempo.lowestBpm', 'least', 61, 60],
    ['tempo.highestBpm', 'most', 178, 180],
    ['notes.lowest', 'least', 38, 36],
    ['notes.lowest', 'least', 41, null],
    ['velocity.highest', 'most', 118, 120],
    ['polyphony.together', 'most', 7, 8],
    ['end.mostBars', 'most', 30, 32],
    ['spacing.sameKeyApartMs', 'least', 3, null],
  ] as const)('%s, at %s %i: %s is what people would say', (path, bound, value, round) => {
    expect(evidenceOf(path, bound, value, [{ name: 'tide', value }], 1).round).toBe(round);
  });
  it('is said in words', () => {
    const seen = [
      { name: 'tide.mid', value: 1502 },
      { name: 'quay.mid', value: 1487.4 },
    ];
    const told = evidenceOf('start.leadInMs', 'least', 1487, seen, 3);
    expect(sayEvidence(told)).toBe(
      'seen in 2 of 3 files; nearest “quay.mid” at 1,487.4, “tide.mid” at 1,502',
    );
    expect(
      sayEvidence(evidenceOf('notes.lowest', 'least', 40, [{ name: 'a', value: 40 }], 1)),
    ).toBe('seen in the only file; “a” at 40');
  });
});
