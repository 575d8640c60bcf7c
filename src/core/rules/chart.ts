import type { LineNotes, OutputLine } from '../reading/lines';
import { Sounding } from '../reading/sounding';
import type { Target } from '../target/schema';
import { isIn } from '../score/score';
import { flags as flagStep, holdRules, reduceChords } from '../steps/chart';
import { thin } from '../steps/spacing';
import { count, plain } from '../target/words';
import { defineRule, mend, Places, within } from './define-rule';
import { strikesOf } from './spacing';

type Rung = NonNullable<NonNullable<Target['chart']>['rungs']>[number];

/** A rung and its keys on a seat; null where all keys of the seat are of it. */
interface RungSet {
  readonly rung: Rung;
  readonly keys: readonly number[] | null;
}

/** The rung that a seat is, or, where rungs are told by keys, all of them. */
function rungsOf({ chart, seats }: Target, group: OutputLine): RungSet[] {
  const rungs = chart?.rungs ?? [];
  const seat = seats.find((s) => s.id === group.parts[0]?.seat);
  if (seat?.kind === 'laneGroup' && seat.rung !== undefined)
    return rungs.filter((r) => r.rung === seat.rung).map((rung) => ({ rung, keys: null }));
  return rungs.flatMap((rung) => (rung.laneNotes ? [{ rung, keys: rung.laneNotes }] : []));
}

/** Without rungs every lane of a seat is looked at together. */
const holdSets = (target: Target, group: OutputLine): readonly (RungSet | null)[] =>
  target.chart?.rungs
    ? rungsOf(target, group)
    : target.chart?.releaseGapMs === undefined
      ? []
      : [null];

export const rungDensity = defineRule({
  id: 'rungs',
  summary: 'Strikes a second and lanes together on each rung of each part.',
  block: 'chart',
  reads: ['rungs'],
  phase: 'spacing',
  codes: {
    'rung-dense': {
      title: 'Too dense for its rung',
      wrong: (f) =>
        `Rung ${f['rung']} of “${f['name']}” asks for up to ${f['most']} strikes in one second.`,
      then: (f, w) =>
        `${w.Target} allows ${f['allowed']} there; a player of that rung cannot follow.`,
    },
    'lanes-together': {
      title: 'Too many lanes together',
      wrong: (f) =>
        `Rung ${f['rung']} of “${f['name']}” asks for up to ${f['most']} lanes together.`,
      then: (f, w) => `${w.Target} allows ${f['allowed']} there and drops the others.`,
    },
  },
  check({ target, groups, maps, report }) {
    for (const group of groups())
      for (const { rung, keys } of rungsOf(target, group)) {
        const notes = keys ? only(group.notes, new Set(keys)) : group.notes;
        if (notes.count === 0) continue;
        const lanes = keys ? { lanes: [...keys] } : {};
        const name = group.parts.map((p) => p.name).join(' + ');
        const base = {
          cause: `${group.parts.map((p) => p.seat ?? p.ref.track).join('+')}/${rung.rung}`,
          ...(group.parts.length === 1 ? { part: group.parts[0]! } : {}),
        };
        const dense = strikesOf(notes, maps, rung.strikesASecond);
        if (dense.places.count > 0)
          report({
            code: 'rung-dense',
            ...base,
            ...dense.places.found,
            data: { rung: rung.rung, name, most: dense.most, allowed: rung.strikesASecond },
            measured: { value: dense.most, unit: 'strikes a second' },
            allowed: { strikesASecond: rung.strikesASecond },
            mends: [
              within(
                mend(
                  'Leave out what is too much in a second',
                  thin,
                  {
                    mostInASecond: rung.strikesASecond,
                    per: 'seat' as const,
                    keep: 'first' as const,
                    ...lanes,
                  },
                  group.parts,
                ),
                dense.places.spans,
              ),
            ],
          });
        const together = laneCrowds(notes, rung.together);
        if (together.places.count > 0)
          report({
            code: 'lanes-together',
            ...base,
            ...together.places.found,
            data: { rung: rung.rung, name, most: together.most, allowed: rung.together },
            measured: { value: together.most, unit: 'lanes' },
            allowed: { together: rung.together },
            mends: (['top', 'bottom'] as const).map((drop) => ({
              title: `Drop the ${drop} ones, let none ring into the next`,
              steps: [
                ...mend('', reduceChords, { most: rung.together, drop, ...lanes }, group.parts)
                  .steps,
                ...mend('', holdRules, { holdMs: 1, noOverlap: true, ...lanes }, group.parts).steps,
              ],
            })),
          });
      }
  },
});

/** The notes of some keys. */
function only(notes: LineNotes, keys: ReadonlySet<number>): LineNotes {
  const at: number[] = [];
  for (let i = 0; i < notes.count; i++) if (keys.has(notes.noteNumber[i]!)) at.push(i);
  return {
    count: at.length,
    start: Int32Array.from(at, (i) => notes.start[i]!),
    end: Int32Array.from(at, (i) => notes.end[i]!),
    noteNumber: Uint8Array.from(at, (i) => notes.noteNumber[i]!),
    id: Uint32Array.from(at, (i) => notes.id[i]!),
  };
}

/** Where more lanes sound at once than may. */
function laneCrowds(notes: LineNotes, together: number) {
  const places = new Places();
  const sounding = new Sounding(notes);
  let most = 0;
  for (let i = 0; i < notes.count; i++) {
    const start = notes.start[i]!;
    sounding.until(start);
    if (notes.end[i]! > start) sounding.add(i);
    if (sounding.keys > most) most = sounding.keys;
    if (sounding.keys > together) sounding.nameAll(start, (n) => places.addNote(notes, n));
  }
  return { places, most };
}

export const holds = defineRule({
  id: 'holds',
  summary: 'Holds leave a gap before the next note of their lane and overlap only where they may.',
  block: 'chart',
  reads: ['rungs', 'releaseGapMs'],
  phase: 'spacing',
  codes: {
    'release-gap': {
      title: 'No time to let go',
      wrong: (f) =>
        `${f['countText']} of “${f['name']}” ${f['one'] ? 'ends' : 'end'} under ${f['gap']} ms before the next note of the lane.`,
      then: (_, w) => `${w.Target} counts the release as missed.`,
    },
    'holds-overlap': {
      title: 'Holds overlap',
      wrong: (f) =>
        `${f['countText']} on rung ${f['rung']} of “${f['name']}” ${f['one'] ? 'begins' : 'begin'} while another is still held.`,
      then: (_, w) => `${w.Target} allows that on its highest rung only and lets go of the first.`,
    },
  },
  check({ block, target, groups, maps, report }) {
    const { holdMs = 0 } = block;
    const { clock } = maps;
    for (const group of groups())
      for (const set of holdSets(target, group)) {
        const notes = set?.keys ? only(group.notes, new Set(set.keys)) : group.notes;
        const gap = set ? set.rung.releaseGapMs : block.releaseGapMs;
        const name = group.parts.map((p) => p.name).join(' + ');
        const base = {
          cause: `${group.parts.map((p) => p.seat ?? p.ref.track).join('+')}/${set?.rung.rung ?? ''}`,
          ...(group.parts.length === 1 ? { part: group.parts[0]! } : {}),
        };
        const isHold = (i: number) =>
          clock.msAt(notes.end[i]!) - clock.msAt(notes.start[i]!) >= holdMs - 1e-6;
        const late = new Places();
        const over = new Places();
        const last = new Map<number, number>();
        /** Until when holds ring that began before the present tick, and those of that tick. */
        let ringing = -1;
        let ringingNow = -1;
        let now = -1;
        let least = Infinity;
        for (let i = 0; i < notes.count; i++) {
          const key = notes.noteNumber[i]!;
          const start = notes.start[i]!;
          const before = last.get(key);
          last.set(key, i);
          if (gap !== undefined && before !== undefined && isHold(before)) {
            const free = clock.msAt(start) - clock.msAt(notes.end[before]!);
            if (free < gap - 1e-6) {
              late.addNote(notes, before);
              least = Math.min(least, free);
            }
          }
          if (start !== now) {
            ringing = Math.max(ringing, ringingNow);
            now = start;
          }
          if (!isHold(i)) continue;
          if (set && !set.rung.holdsOverlap && ringing > start) over.addNote(notes, i);
          ringingNow = Math.max(ringingNow, notes.end[i]!);
        }
        const facts = (p: Places) => ({
          name,
          countText: count(p.count, 'hold'),
          one: p.count === 1 ? 1 : 0,
        });
        const lanes = set?.keys ? { lanes: [...set.keys] } : {};
        if (late.count > 0)
          report({
            code: 'release-gap',
            ...base,
            ...late.found,
            data: { ...facts(late), gap: plain(gap!) },
            measured: { value: Math.round(least * 1000) / 1000, unit: 'ms' },
            allowed: { releaseGapMs: gap },
            mends: [
              mend(
                'Let go earlier',
                holdRules,
                { holdMs: Math.max(1, holdMs), releaseGapMs: gap!, ...lanes },
                group.parts,
              ),
            ],
          });
        if (over.count > 0)
          report({
            code: 'holds-overlap',
            ...base,
            ...over.found,
            data: { ...facts(over), rung: set!.rung.rung },
            measured: { value: over.count, unit: 'holds' },
            allowed: { holdsOverlap: false },
            mends: [
              mend(
                'End each where the next begins',
                holdRules,
                { holdMs: Math.max(1, holdMs), noOverlap: true, ...lanes },
                group.parts,
              ),
            ],
          });
      }
  },
});

export const flagKnown = defineRule({
  id: 'flags-known',
  summary: 'Only flags that the target knows.',
  block: 'chart',
  reads: ['flags'],
  phase: 'notes',
  codes: {
    'flag-unknown': {
      title: 'A flag it does not know',
      wrong: (f) => `${f['countText']} the flag “${f['flag']}”.`,
      then: (f, w) => `${w.Target} knows ${f['allowed']} and refuses the chart.`,
    },
  },
  check({ block, piece, report }) {
    const known = new Set(block.flags ?? []);
    for (const { flag, notes } of piece.flags ?? []) {
      if (known.has(flag)) continue;
      const places = new Places();
      const parts = piece.score.parts.filter(isIn);
      for (const part of parts)
        for (let i = 0; i < part.notes.count; i++)
          if (notes.has(part.notes.id[i]!)) places.add(part, i);
      if (places.count === 0) continue;
      report({
        code: 'flag-unknown',
        cause: flag,
        ...places.found,
        data: {
          countText: places.count === 1 ? 'One note carries' : `${places.count} notes carry`,
          flag,
          allowed: [...known].join(', ') || 'no flags',
        },
        measured: { value: places.count, unit: 'notes' },
        allowed: { flags: [...known] },
        mends: [mend('Take the flag away', flagStep, { flag, take: true })],
      });
    }
  },
});
