import { inThousandths } from '../core/compare/say-figures';
import { promisedBy } from '../core/plan/promise';
import type { Score } from '../core/score/score';
import type { Base } from '../core/sources/merge';
import { musicView } from '../core/wire/music';
import { sayDamage, type Damage } from '../core/diagnostic/damage';
import type { Finding } from '../core/rules/finding';
import type { Rendition } from '../core/score/piece';
import type { Trials } from '../core/plan/trial';
import { placeOf, sayFinding } from '../core/rules/say';
import { mapsOf, roundMs, type Inventory } from '../core/score/inventory';
import type { Target } from '../core/target/schema';

export const damageJson = (d: Damage) => ({
  code: d.code,
  byteOffset: d.byteOffset,
  track: d.track,
  says: sayDamage(d),
});

/** As `cli.md` lists it; what people read besides is left to the text output. */
export function inventoryJson(i: Inventory, score: Score) {
  const { roles } = musicView(score);
  return {
    ...i,
    parts: i.parts.map(({ stuck, lowestVelocity, highestVelocity, aftertouch, ...part }) => {
      const role = roles.find((r) => r.part === part.id);
      return {
        ...part,
        aftertouch,
        stuck,
        lowestVelocity,
        highestVelocity,
        role: role ? { says: role.says, why: role.why } : null,
      };
    }),
  };
}

/**
 * A finding as data.
 * @param trials works out what each mend would do; without them only its title is given
 */
export function findingJson(
  f: Finding,
  target: Target,
  rendition: Rendition,
  trials: Trials | null,
  base: Base,
) {
  const maps = mapsOf(rendition.pieces[f.piece ?? 0]!.score);
  const said = sayFinding(f, target, maps);
  const first = f.spans[0];
  const last = f.spans.at(-1);
  const ms = (tick: number | undefined) =>
    tick === undefined ? null : roundMs(maps.clock.msAt(tick));
  return {
    key: f.key,
    rule: f.rule,
    code: f.code,
    severity: f.severity,
    part: f.part,
    fromTick: first?.fromTick ?? null,
    toTick: last?.toTick ?? null,
    fromMs: ms(first?.fromTick),
    toMs: ms(last?.toTick),
    place: placeOf(f, maps),
    notes: f.notes.length,
    measured: f.measured ?? null,
    allowed: f.allowed ?? null,
    says: `${said.title}. ${said.wrong} ${said.then}`,
    mends: f.mends.map((mend) => {
      if (!trials) return { title: mend.title };
      const trial = trials.try(rendition, mend);
      return {
        title: mend.title,
        lossless: trial.lossless,
        shiftMs: trial.shiftMs,
        drops: trial.notesDropped,
        costs: trial.costs,
        ...(f.choice !== undefined && trial.refused === null
          ? { music: inThousandths(promisedBy(trial.rendition, target, base)) }
          : {}),
        does: trial.says,
      };
    }),
    choice: f.choice ?? null,
    noMend: f.noMend ?? null,
  };
}
