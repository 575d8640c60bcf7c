import type { LineNotes } from '../score/lines';
import { isIn } from '../score/score';
import { flags as flagStep, holdRules, reduceChords } from '../steps/chart';
import { thin } from '../steps/spacing';
import { count, plain } from '../target/words';
import { defineRule, mend, Places } from './define-rule';
import { strikesOf } from './spacing';

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
  check({ block, groups, maps, report }) {
    for (const group of groups())
      for (const rung of block.rungs ?? []) {
        const lanes = new Set(rung.laneNotes);
        const notes = only(group.notes, lanes);
        if (notes.count === 0) continue;
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
              mend(
                'Thin them out evenly',
                thin,
                {
                  apartMs: 1000 / rung.strikesASecond,
                  per: 'seat',
                  keep: 'first',
                  lanes: rung.laneNotes,
                },
                group.parts,
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
                ...mend(
                  '',
                  reduceChords,
                  { most: rung.together, drop, lanes: rung.laneNotes },
                  group.parts,
                ).steps,
                ...mend(
                  '',
                  holdRules,
                  { holdMs: 1, noOverlap: true, lanes: rung.laneNotes },
                  group.parts,
                ).steps,
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
  const marked = new Set<number>();
  let sounding: number[] = [];
  let most = 0;
  for (let i = 0; i < notes.count; i++) {
    const start = notes.start[i]!;
    sounding = sounding.filter((s) => notes.end[s]! > start);
    if (notes.end[i]! > start) sounding.push(i);
    const lanes = new Set(sounding.map((s) => notes.noteNumber[s]!)).size;
    if (lanes > most) most = lanes;
    if (lanes > together)
      for (const s of sounding)
        if (!marked.has(s)) {
          marked.add(s);
          places.addNote(notes, s);
        }
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
  check({ block, groups, maps, report }) {
    const { holdMs = 0 } = block;
    const { clock } = maps;
    const sets = (block.rungs ?? []).map((r) => ({
      rung: r.rung,
      lanes: new Set(r.laneNotes),
      laneNotes: r.laneNotes,
      gap: r.releaseGapMs as number | undefined,
      overlap: r.holdsOverlap === true,
    }));
    // Without rungs every lane of a seat is looked at together.
    const all = sets.length > 0 ? sets : block.releaseGapMs === undefined ? [] : [null];
    for (const group of groups())
      for (const set of all) {
        const notes = set ? only(group.notes, set.lanes) : group.notes;
        const gap = set ? set.gap : block.releaseGapMs;
        const name = group.parts.map((p) => p.name).join(' + ');
        const base = {
          cause: `${group.parts.map((p) => p.seat ?? p.ref.track).join('+')}/${set?.rung ?? ''}`,
          ...(group.parts.length === 1 ? { part: group.parts[0]! } : {}),
        };
        const isHold = (i: number) =>
          clock.msAt(notes.end[i]!) - clock.msAt(notes.start[i]!) >= holdMs - 1e-6;
        const late = new Places();
        const over = new Places();
        const last = new Map<number, number>();
        let held: number[] = [];
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
          held = held.filter((h) => notes.end[h]! > start);
          if (!isHold(i)) continue;
          if (set && !set.overlap && held.some((h) => notes.start[h]! < start))
            over.addNote(notes, i);
          held.push(i);
        }
        const facts = (p: Places) => ({
          name,
          countText: count(p.count, 'hold'),
          one: p.count === 1 ? 1 : 0,
        });
        const lanes = set ? { lanes: set.laneNotes } : {};
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
            data: { ...facts(over), rung: set!.rung },
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
