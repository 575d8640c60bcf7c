import { describe, expect, it } from 'vitest';
import { mendingSongs } from '../../../demo/mending-songs';
import { sourceFromBytes } from '../../../testing/score-builder';
import { compare, listen } from '../../../bench/mending/listener';
import { proof, tallyOf } from '../rules/proof';
import { isIn } from '../score/score';
import { fileOf } from '../score/to-file';
import { writeSmf } from '../smf/write';
import { kindOfTarget } from '../target/seat-kind';
import { isDrumPart } from '../reading/importance/drums';
import type { Base } from '../sources/merge';
import { heardEvents } from '../target/heard';
import type { Target } from '../target/schema';
import { builtInTargets, findTarget } from '../target/index';
import { baseOf } from './base';
import { mendMany, type MendReach } from './mend';
import { runPlan } from './run';
import { Trials } from './trial';

/** One of each shape: what people bring, and not made for any target. */
const songs = mendingSongs().filter((_, i) => i % 5 === 0);
const mended = (bytes: Uint8Array, id: string, reach: MendReach, accept = true) => {
  const target = findTarget(id)!;
  const base = baseOf(sourceFromBytes(bytes, 'song.mid'));
  const { rendition } = runPlan({ base, target, plan: { steps: [] } });
  return {
    target,
    base,
    before: rendition,
    ...mendMany({ rendition, target, base, reach, accept }),
  };
};
const notesOf = (r: ReturnType<typeof mended>['rendition']) =>
  r.pieces.reduce(
    (n, p) => n + p.score.parts.reduce((m, part) => m + (part.leftOut ? 0 : part.notes.count), 0),
    0,
  );

const hasDrums = ({ rendition }: Base) =>
  rendition.pieces.some((p) => p.score.parts.some((o) => o.notes.count > 0 && isDrumPart(o)));

const turnedOf = ({ pieces }: ReturnType<typeof mended>['rendition'], target: Target) =>
  pieces
    .flatMap((p) => p.score.parts.filter(isIn))
    .map((part) => heardEvents(part, target))
    .reduce((n, { presets, values }) => n + presets + values, 0);

/** The long ones are mended once; what else is asked is asked of the others. */
const LONG = new Set(['long free tempo', 'orchestra of 30 parts']);

describe.each(songs.map((s) => [s.shape, s.bytes] as const))('%s', (shape, bytes) => {
  it('mending never raises the stops, never empties, and mended again it stays', () => {
    for (const target of builtInTargets) {
      const { id, carrier, notes } = target;
      const done = mended(bytes, id, 'drop');
      expect(done.newStops, id).toBe(0);
      // What was pitched becomes no drum: where a song has none somebody has to say what to do.
      const open = done.findings.some((f) => f.code === 'no-drums');
      const pitched = kindOfTarget(target) === 'drums' && !hasDrums(done.base);
      expect(open, id).toBe(pitched);
      if (!carrier && !notes?.none && !pitched)
        expect(notesOf(done.rendition), id).toBeGreaterThan(0);
      // What takes no notes is left with none, where something else is left.
      if (notes?.none && turnedOf(done.rendition, target) > 0)
        expect(notesOf(done.rendition), id).toBe(0);
      const again = mendMany({ ...done, reach: 'drop', accept: true });
      expect(
        again.applied.map((a) => a.title),
        id,
      ).toEqual([]);
    }
  });
  it('what keeps every note drops none of a seat, and cautions make no stop', () => {
    for (const { id } of LONG.has(shape) ? [] : builtInTargets) {
      const done = mended(bytes, id, 'keep');
      for (const a of done.applied)
        if (!a.finding.startsWith('seating/')) expect(a.notesDropped, `${id}: ${a.title}`).toBe(0);
      expect(tallyOf(done.findings).stops, id).toBe(
        tallyOf(proof({ rendition: done.rendition, target: done.target, base: done.base })).stops,
      );
    }
  });
  it('an ear that is not ours hears all of what loses nothing', () => {
    for (const { id, carrier, end, seats } of builtInTargets) {
      // Of places and a few bars only what was chosen is heard.
      if (carrier || end?.onlyBars || seats.some((s) => s.kind === 'file')) continue;
      if (LONG.has(shape)) continue;
      const done = mended(bytes, id, 'lossless', false);
      const whole = done.before.pieces[0]!;
      const heard = (p: typeof whole) => listen(writeSmf(fileOf(p)));
      const [was, is] = [heard(whole), heard(done.rendition.pieces[0]!)];
      const { kept, intact } = compare(was, is, { toleranceMs: 3 });
      expect([id, kept, intact]).toEqual([id, was.length, was.length]);
    }
  });
});

it('choices wait for somebody: without one nothing is seated that could be another', () => {
  const band = songs.find((s) => s.shape === 'choir')!.bytes;
  const open = mended(band, 'song-board', 'keep', false);
  expect(open.choices).toHaveLength(1);
  expect(open.choices[0]!.mends.length).toBeGreaterThan(2);
  expect(open.applied.some((a) => a.finding.startsWith('seating/'))).toBe(false);
});

it('of one finding the cheapest mend that helps is taken, wherever it stands in the list', () => {
  let behindAnother = 0;
  for (const { bytes, shape } of songs.filter((s) => !LONG.has(s.shape)))
    for (const target of builtInTargets) {
      const base = baseOf(sourceFromBytes(bytes, 'song.mid'));
      const { rendition } = runPlan({ base, target, plan: { steps: [] } });
      const findings = proof({ rendition, target, base });
      for (const found of findings) {
        // Who plays, and where out of reach goes, is chosen by what speaks for it, not by cost.
        const byCost = found.choice === undefined && found.rule !== 'seating' && !found.ranked;
        if (!byCost || found.severity !== 'stop' || found.mends.length < 2) continue;
        const leftAsIs = findings.filter((f) => f.key !== found.key);
        const alone = { rendition, target, base, reach: 'drop', leftAsIs } as const;
        const others = new Set(leftAsIs.map((f) => f.key));
        const [applied] = mendMany(alone).applied;
        if (!applied) continue;
        const trials = new Trials(base, target, () => {});
        const costs = found.mends.map((mend) => {
          const { refused, cost, rendition: then } = trials.try(rendition, mend);
          const still = proof({ rendition: then, target, base }).some(
            (f) => f.severity === 'stop' && !others.has(f.key),
          );
          return refused === null && !still ? cost : Infinity;
        });
        const taken = found.mends.findIndex((mend) => mend.title === applied.title);
        // A way that keeps every note may be worth what it brings to light.
        if (costs[taken] === Infinity) continue;
        const says = `${shape}, ${target.id}, ${found.code}`;
        expect(costs[taken], says).toBeLessThanOrEqual(Math.min(...costs));
        if (costs[taken]! < costs[0]!) behindAnother++;
      }
    }
  expect(behindAnother).toBeGreaterThanOrEqual(5);
});
