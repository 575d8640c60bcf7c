import { kindOfTarget } from '../src/core/target/seat-kind';
import fc from 'fast-check';
import type { Finding } from '../src/core/rules/finding';
import type { CompanionSound, OutputFile } from '../src/core/outputs/define-writer';
import { writeOutputs } from '../src/core/outputs/index';
import { differenceOf, idsByPlace } from '../src/core/handover/difference';
import { meantOf } from '../src/core/handover/meant';
import { type Applied, mendMany } from '../src/core/plan/mend';
import { baseOf } from '../src/core/plan/base';
import { runPlan } from '../src/core/plan/run';
import type { PlanStep } from '../src/core/plan/plan';
import { hearsCurves } from '../src/core/target/hearing';
import { findRule } from '../src/core/rules/index';
import { proof } from '../src/core/rules/proof';
import type { Rendition } from '../src/core/score/piece';
import type { Base } from '../src/core/sources/merge';
import { notesWhere, pickNotes } from '../src/core/score/columns';
import type { SourceScore } from '../src/core/sources/source';
import type { SourceUse } from '../src/core/sources/use';
import { rehearse } from '../src/core/standin/index';
import type { Played } from '../src/core/standin/played';
import type { Target } from '../src/core/target/schema';
import { smf, Track } from './score-builder';

export interface Delivered {
  readonly base: Base;
  readonly rendition: Rendition;
  readonly target: Target;
  readonly findings: readonly Finding[];
  readonly files: readonly OutputFile[];
  readonly played: Played;
}

export interface DeliverOptions {
  readonly steps?: readonly PlanStep[];
  /** `lossless`: only what is no loss, so that limits of notes stay broken. */
  readonly mended?: boolean | 'lossless';
  readonly sound?: CompanionSound | null;
  readonly uses?: readonly SourceUse[];
}

/** A source on its way through a target: proofed, mended where asked, written, rehearsed. */
export function deliver(
  source: SourceScore | readonly SourceScore[],
  target: Target,
  { steps = [], mended = false, sound = null, uses }: DeliverOptions = {},
): Delivered {
  const base = baseOf(source, uses);
  const run = runPlan({ base, target, plan: { steps } });
  const { rendition } = mended
    ? mendMany({
        rendition: run.rendition,
        target,
        base,
        reach: mended === true ? 'drop' : 'lossless',
        accept: true,
      })
    : run;
  const findings = proof({ rendition, target, base });
  const { files } = writeOutputs(rendition, target, sound);
  return { base, rendition, target, findings, files, played: rehearse(files, target) };
}

/** What mending applied, as steps of a plan. */
export const stepsOf = (applied: readonly Applied[]): PlanStep[] =>
  applied.flatMap((a) => a.steps).map((call, i) => ({ ...call, key: `m${i}`, on: true }));

/** What a target asks to be told, so that it is not refused for that alone. */
export function toldSteps({ metadata, frames }: Target): PlanStep[] {
  const asked = new Set(metadata?.required.map((r) => r.key));
  const told: Partial<Record<string, string>> = {
    title: 'Salt',
    maker: 'Ada Fenn',
    displayName: 'Salt',
    sound: 'salt.wav',
    frameRate: String(frames?.perSecond[1] ?? 25),
    ending: 'rest-at-end',
  };
  const params = Object.fromEntries(Object.entries(told).filter(([k]) => asked.has(k as never)));
  if (Object.keys(params).length === 0) return [];
  return [{ key: 'told', step: 'metadata', params, scope: {}, on: true }];
}

export const stopsOf = ({ findings }: Delivered) => findings.filter((f) => f.severity === 'stop');

/** Law 1: nothing refused, nothing dropped, every note as it is meant. In words where it is not. */
export function brokenLaw1(delivered: Delivered): string[] {
  const { rendition, target, files, played } = delivered;
  const pieces = new Map(files.map((f) => [f.path, f.holds]));
  const difference = differenceOf(meantOf(rendition, target), played, (f) => pieces.get(f));
  return [
    ...played.refused.map((c) => `refused ${c.file} ${c.at}: ${c.says}`),
    ...played.dropped.map((d) => `dropped ${d.seat} ${d.key} at ${d.atUs}: ${d.because}`),
    ...difference.missing.map((m) => `missing ${m.seat} ${m.key} at ${m.atUs}`),
    ...difference.extra.map((e) => `extra ${e.kind} ${e.seat} ${e.key} at ${e.atUs}`),
  ];
}

/** Blocks whose limits are of single notes. */
const NOTE_BLOCKS = new Set([
  'notes',
  'seats',
  'channels',
  'kits',
  'polyphony',
  'spacing',
  'length',
  'grid',
  'chart',
  'frames',
  'chains',
  'velocity',
]);
/** Findings of those blocks that speak of the whole piece, or of what is no note. */
const OF_THE_WHOLE = new Set([
  'empty-seat',
  'no-place',
  'place-missing',
  'place-twice',
  'place-length',
  'no-notes',
  'file-empty',
  'left-out',
  'flag-unknown',
  'kit-unknown',
  'patterns-many',
  'link-unknown',
  'links-many',
  'link-beyond',
  'frame-rate',
  'frame-shift',
  'ending-unknown',
  'frames-drift',
  'rows-unknown',
]);

const blockOf = (rule: string) => (rule === 'note-range' ? 'notes' : findRule(rule)?.block);

/** What is loaded, and where every part has a seat: what has none is not judged by other rules. */
export const isJudged = (delivered: Delivered): boolean =>
  delivered.played.refused.length === 0 && !stopsOf(delivered).some((f) => f.code === 'unseated');

/**
 * Law 2: what is dropped was named by a stop of the same limit, and of each stop that names notes at
 * least one is dropped, whatever for. A file that is refused plays nothing, and says nothing of notes.
 */
export function brokenLaw2(delivered: Delivered): string[] {
  const { rendition, target, base, files, played } = delivered;
  if (!isJudged(delivered)) return [];
  const stops = stopsOf(delivered);
  const meant = meantOf(rendition, target, true);
  const pieces = new Map(files.map((f) => [f.path, f.holds]));
  const idOf = idsByPlace(meant, pieces, target);
  const named = new Map<number, Set<string>>();
  for (const f of stops)
    for (const id of f.notes) {
      const blocks = named.get(id) ?? new Set();
      named.set(id, blocks.add(String(blockOf(f.rule))));
    }
  const out: string[] = [];
  let left: Set<string> | null = null;
  const gone = new Set<number>();
  // What never came to the device is as gone as what it dropped.
  for (const m of differenceOf(meant, played, (f) => pieces.get(f)).missing) gone.add(m.id);
  for (const d of played.dropped) {
    const ids = idOf(d);
    for (const id of ids) gone.add(id);
    if (d.key < 0 || d.block === null || !NOTE_BLOCKS.has(d.block)) continue;
    if (!ids.some((id) => named.get(id)?.has(d.block!)))
      out.push(`dropped but not named: ${d.seat} ${d.key} at ${d.writtenUs}: ${d.because}`);
  }
  for (const f of stops) {
    const block = blockOf(f.rule);
    if (!block || !NOTE_BLOCKS.has(block) || OF_THE_WHOLE.has(f.code) || f.notes.length === 0)
      continue;
    if (f.notes.some((id) => gone.has(id))) continue;
    // What it stood too close to may be gone for another reason: then nothing is left of it.
    left ??= new Set(
      proof({ rendition: withoutNotes(rendition, gone), target, base }).map((g) => g.key),
    );
    if (left.has(f.key)) out.push(`named but not dropped: ${f.code} ${f.key}`);
  }
  out.push(...brokenOfCurves(delivered));
  return out;
}

/**
 * The same of what is no note, by blocks: what a device of curves drops was named by a stop of its
 * block, and of each block with a stop something is dropped, as far as its presets are there.
 */
function brokenOfCurves(delivered: Delivered): string[] {
  const { target, played } = delivered;
  if (!hearsCurves(target)) return [];
  const stops = stopsOf(delivered);
  const named = new Set(stops.map((f) => String(blockOf(f.rule))));
  const dropped = new Set(played.dropped.map((d) => String(d.block)));
  const out = played.dropped
    .filter((d) => !named.has(String(d.block)))
    .map((d) => `dropped but not named: ${d.seat} ${d.key} at ${d.writtenUs}: ${d.because}`);
  for (const block of ['presets', 'curves'])
    if (named.has(block) && !dropped.has(block) && !(block === 'curves' && named.has('presets')))
      if (!stops.some((f) => f.rule === 'quiet-start'))
        out.push(`named but nothing dropped: ${block}`);
  return out;
}

const withoutNotes = ({ pieces }: Rendition, gone: ReadonlySet<number>): Rendition => ({
  pieces: pieces.map((piece) => {
    const parts = piece.score.parts.map((part) => {
      const kept = notesWhere(part.notes, (i) => !gone.has(part.notes.id[i]!));
      return kept.length === part.notes.count
        ? part
        : { ...part, notes: pickNotes(part.notes, kept) };
    });
    return { ...piece, score: { ...piece.score, parts } };
  }),
});

const notes = fc.array(
  fc.record({
    start: fc.nat(40),
    // Off the grid now and then, and sometimes at once.
    off: fc.constantFrom(0, 0, 0, 7, 60, 119),
    length: fc.constantFrom(30, 60, 120, 240, 480, 960),
    key: fc.integer({ min: 0, max: 24 }),
    velocity: fc.integer({ min: 1, max: 127 }),
  }),
  { minLength: 1, maxLength: 24 },
);

/** Presets and values as feet and hands send them: known and unknown, near and far, in a hurry. */
const turns = fc.array(
  fc.record({
    start: fc.nat(400),
    what: fc.nat(9),
    which: fc.nat(40),
    value: fc.nat(127),
    many: fc.constantFrom(1, 1, 1, 2, 12, 70),
    gapMs: fc.constantFrom(1, 8, 20, 26, 60),
  }),
  { minLength: 1, maxLength: 10 },
);

function turnInto(
  track: Track,
  channel: number,
  list: readonly (typeof turns extends fc.Arbitrary<infer T> ? T : never)[number][],
  { presets, curves }: Target,
  tickOf: (ms: number) => number,
) {
  if (presets && list[0]!.which % 4 > 0) {
    const { bank, program } = presets.list[list[0]!.which % presets.list.length]!;
    track.control(0, channel, 0, bank).program(0, channel, program);
  }
  const controllers =
    curves?.list.flatMap((c) => (c.controllers ?? []).map((n) => ({ c, n }))) ?? [];
  for (const t of list) {
    const at = 600 + t.start * 20;
    if (presets && t.what < 3) {
      const known = presets.list[t.which % presets.list.length]!;
      const bank = t.what === 0 && t.value % 3 === 0 ? t.value : known.bank;
      track.control(tickOf(at - (t.value % 5 === 0 ? 40 : 0)), channel, 0, bank);
      track.program(tickOf(at), channel, known.program);
      continue;
    }
    const one = controllers[t.which % Math.max(1, controllers.length)];
    if (!one) continue;
    for (let k = 0; k < t.many; k++) {
      const raw = (t.value + k) % 128;
      const value = one.c.values && t.value % 4 > 0 ? one.c.values[k % one.c.values.length]! : raw;
      track.control(tickOf(at + k * t.gapMs), channel, one.n, value);
    }
    if (one.c.rest !== undefined && t.value % 3 > 0)
      track.control(tickOf(at + t.many * t.gapMs + 100), channel, one.n, one.c.rest);
  }
}

/** Random scores that a target is likely to take: on its channels, near its keys, of many faults. */
export function scoreFor(target: Target): fc.Arbitrary<Uint8Array> {
  const seats = target.seats.filter((s) => s.kind !== 'file');
  const only = target.notes?.only;
  return fc
    .record({
      parts: fc.array(notes, { minLength: 1, maxLength: 3 }),
      bpm: fc.constantFrom(60, 96, 120, 133),
      second: fc.constantFrom(null, null, 90),
      ppq: fc.constantFrom(24, 60, 96, 480),
      lead: fc.constantFrom(0, 4, 16),
      numerator: fc.constantFrom(3, 4),
      fromSeat: fc.nat(20),
      turned: turns,
    })
    .map(({ parts, bpm, second, ppq, lead, numerator, fromSeat, turned }) => {
      const listens = hearsCurves(target);
      const head = new Track().tempo(0, bpm).meter(0, numerator, 4).marker(0, 'Salt');
      if (second !== null) head.tempo(ppq * 7, second);
      const tracks = parts.map((list, p) => {
        const seat = seats[(fromSeat + p) % Math.max(1, seats.length)];
        const drums = kindOfTarget(target) === 'drums';
        const channel = seat && 'channel' in seat ? seat.channel : drums ? 10 : (p % 15) + 1;
        const name = (seat && 'track' in seat && seat.track) || `Part ${p + 1}`;
        const keys = seat?.kind === 'laneGroup' ? seat.laneNotes : only;
        const low = target.notes?.lowest ?? seat?.accepts?.lowest ?? 48;
        const track = new Track(name);
        if (listens && p === 0) {
          const tickOf = (ms: number) => Math.round((ms * bpm * ppq) / 60_000);
          turnInto(track, channel, turned, target, tickOf);
        }
        // What takes no notes gets them now and then.
        if (listens && (p > 0 || fromSeat % 4 > 0)) return track;
        for (const n of list) {
          const tick = Math.floor(((n.start + lead) * ppq) / 4 + (n.off * ppq) / 480);
          const key = keys && n.key % 5 > 0 ? keys[n.key % keys.length]! : low + n.key;
          const length = Math.max(1, Math.floor((n.length * ppq) / 480));
          track.note(channel, tick, length, Math.min(127, key), n.velocity);
        }
        return track;
      });
      return smf(1, ppq, [head, ...tracks]);
    });
}
