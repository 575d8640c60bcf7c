import { KINDS, type HiddenRule } from '../testing/strangers/hidden-rules';
import { anyTune, bytesOf, dice, sourceOf, type Tune } from '../testing/strangers/tune';
import { observe } from '../src/core/learning/observe';
import type { Trial } from '../src/core/learning/reasons';
import { separate } from '../src/core/learning/separate';

/**
 * How many hidden rules of strangers are named by the first three reasons, from six files that were
 * taken and five that were refused: `npm run bench learning [SEEDS]`. Devices of one, two and three
 * rules; what was refused is any song that breaks one (wild), or one that breaks one alone (tame).
 */
const SEEDS = Number(process.argv[2] ?? 3);
const NAMES = ['Long walk home', 'tide-mill', 'Quay 7', 'EBB', 'LANTERN', 'reedsong', 'MOLE3'];
const kinds = Object.keys(KINDS);
const sounds = (t: Tune) => t.lines.some((l) => l.notes.length > 0);

function device(seed: number, first: string, size: number, tame: boolean) {
  const roll = dice(seed);
  const rules = new Map<string, HiddenRule>([[first, KINDS[first]!(roll)]]);
  while (rules.size < size) {
    const other = roll.pick(kinds);
    if (!rules.has(other)) rules.set(other, KINDS[other]!(roll));
  }
  const broken = (t: Tune) => [...rules.values()].filter((r) => r.breaks(t));
  // What keeps one may break another: a few rounds.
  const keeping = (t: Tune, but?: HiddenRule) => {
    const out = structuredClone(t);
    for (let i = 0; i < 4; i++)
      for (const r of rules.values()) if (sounds(out) && r !== but && r.breaks(out)) r.keep(out);
    return out;
  };
  const trials: Trial[] = [];
  const shown = new Set<HiddenRule>();
  const have = (taken: boolean) => trials.filter((t) => t.taken === taken).length;
  const put = (t: Tune, taken: boolean) =>
    trials.push({ name: t.name, taken, observed: observe(sourceOf(t), bytesOf(t).length) });
  for (let n = 1; n < 60 && (have(true) < 6 || have(false) < 5); n++) {
    const tune = anyTune(roll, `${roll.pick(NAMES)}${n}.mid`, [6, 20]);
    const off = broken(tune);
    const odd = off.length === 0 ? tune : tame ? keeping(tune, roll.pick(off)) : tune;
    if (have(false) < 5 && broken(odd).length > 0) {
      for (const r of broken(odd)) shown.add(r);
      put(odd, false);
      continue;
    }
    const kept = keeping(tune);
    if (have(true) < 6 && sounds(kept) && broken(kept).length === 0) put(kept, true);
  }
  return { trials, rules: [...shown], isWhole: have(true) >= 4 && have(false) >= 2 };
}

for (const [size, tame] of [
  [1, false],
  [2, true],
  [2, false],
  [3, true],
  [3, false],
] as const) {
  let [named, first, all] = [0, 0, 0];
  for (let seed = 1; seed <= SEEDS; seed++)
    for (const [k, kind] of kinds.entries()) {
      const { trials, rules, isWhole } = device(seed * 1000 + k * 7 + 1, kind, size, tame);
      if (!isWhole) continue;
      const top = separate(trials).proposals.slice(0, 3);
      for (const rule of rules) {
        const at = top.findIndex((p) =>
          p.sets.some((s) => {
            const measure = 'adds' in s ? (s.adds as { measure?: string }).measure : undefined;
            return rule.paths.some((x) => x.test(s.path) || x.test(`limits.${measure ?? ''}`));
          }),
        );
        all++;
        if (at >= 0) named++;
        if (at === 0) first++;
      }
    }
  const percent = ((100 * named) / all).toFixed(0);
  console.log(
    `${size} hidden, ${tame ? 'one broken at a time' : 'any songs'}: ` +
      `${named} of ${all} named in the first three (${percent} %), ${first} as the first`,
  );
}
