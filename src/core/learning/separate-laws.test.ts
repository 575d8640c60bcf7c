import { describe, expect, it } from 'vitest';
import { KINDS } from '../../../testing/strangers/hidden-rules';
import { anyTune, bytesOf, dice, sourceOf, type Tune } from '../../../testing/strangers/tune';
import { renditionOf } from '../../../testing/score-builder';
import { baseOf } from '../plan/base';
import { proof } from '../rules/proof';
import { parseTarget } from '../target/parse';
import type { Target } from '../target/schema';
import { UNSAID } from '../target/unsaid';
import type { SourceScore } from '../sources/source';
import { observe } from './observe';
import type { Trial } from './reasons';
import { separate } from './separate';
import { settle } from '../target/settle';

const NAMES = ['Long walk', 'tide-mill', 'Quay 7', 'EBB', 'LANTERN', 'reedsong', 'MOLE3', 'salt'];
const trialOf = (t: Tune, taken: boolean): Trial & { source: SourceScore; tune: Tune } => {
  const source = sourceOf(t);
  return { name: t.name, taken, observed: observe(source, bytesOf(t).length), source, tune: t };
};

/** Six files that keep a rule of a stranger, and up to five that break it, songs of all kinds. */
function tried(kind: string, seed: number) {
  const roll = dice(seed);
  const rule = KINDS[kind]!(roll);
  const trials: ReturnType<typeof trialOf>[] = [];
  const have = (taken: boolean) => trials.filter((t) => t.taken === taken).length;
  for (let n = 1; n < 200 && (have(true) < 6 || have(false) < 5); n++) {
    const tune = anyTune(roll, `${roll.pick(NAMES)}${n}.mid`, [5, 16]);
    if (rule.breaks(tune)) {
      if (have(false) < 5) {
        trials.push(trialOf(tune, false));
        continue;
      }
      rule.keep(tune);
    }
    if (have(true) < 6 && !rule.breaks(tune) && tune.lines.some((l) => l.notes.length > 0))
      trials.push(trialOf(tune, true));
  }
  return { rule, trials };
}

describe('rules of strangers, told by files alone', () => {
  it.each(Object.keys(KINDS))('%s: it is among the first three reasons', (kind) => {
    let named = 0;
    let all = 0;
    for (const seed of [71, 1931]) {
      const { rule, trials } = tried(kind, seed);
      if (trials.every((t) => t.taken) || trials.every((t) => !t.taken)) continue;
      all++;
      const top = separate(trials).proposals.slice(0, 3);
      const isIt = top.some((p) =>
        p.sets.some((s) => {
          const measure = 'adds' in s ? (s.adds as { measure?: string }).measure : undefined;
          return rule.paths.some((x) => x.test(s.path) || x.test(`limits.${measure ?? ''}`));
        }),
      );
      if (isIt) named++;
    }
    expect(all).toBeGreaterThan(0);
    // By chance another reason may separate as well.
    expect(named).toBeGreaterThan(0);
  });

  it('what a proposal says is what the rules of the desk find: in those that break it alone', () => {
    const seen = new Set<string>();
    for (const [i, kind] of Object.keys(KINDS).entries()) {
      const { trials } = tried(kind, 300 + i * 17);
      for (const p of separate(trials).proposals) {
        // That a seat has to be filled is told where parts have seats: in the test beside this one.
        if (seen.has(p.claim) || p.claim === 'must-have') continue;
        seen.add(p.claim);
        const { target, problems } = parseTarget(settle({ ...UNSAID, id: 'told' }, p.sets));
        expect(problems, p.claim).toEqual([]);
        const found = (t: (typeof trials)[0], by: Target) =>
          proof({ rendition: renditionOf(t.source, by), target: by, base: baseOf(t.source) })
            .filter((f) => f.severity === 'stop')
            .map((f) => f.code);
        const stops = (t: (typeof trials)[0]) => {
          const always = found(t, UNSAID);
          return found(t, target!).filter((code) => !always.includes(code));
        };
        for (const t of trials) {
          const says = `${p.claim} ${p.says} | ${t.name} ${t.taken ? 'taken' : 'refused'}`;
          if (t.taken) expect(stops(t), says).toEqual([]);
          if (p.broken.includes(t.name)) expect(stops(t), says).not.toEqual([]);
        }
      }
    }
    expect(seen.size).toBeGreaterThan(45);
  });
});
