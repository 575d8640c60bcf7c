import { isIn, type Part } from '../score/score';
import { foldKey, foldOctaves, transpose } from '../steps/pitch';
import { lanes } from '../steps/keys';
import { leaveOut } from '../steps/routing';
import type { Mend } from '../diagnostic/finding';
import { allowedKeys, limitsFor } from '../target/limits';
import type { Target } from '../target/schema';
import { count, noteName } from '../target/words';
import { defineRule, mend, Places } from './define-rule';

/** The whole octaves by which all notes of a part come into reach, fewest first; null where none. */
function octavesForAll(part: Part, allowed: readonly boolean[]): number | null {
  const { noteNumber, count: notes } = part.notes;
  for (const by of [12, -12, 24, -24, 36, -36, 48, -48]) {
    let fits = true;
    for (let i = 0; i < notes && fits; i++) fits = allowed[noteNumber[i]! + by] === true;
    if (fits) return by;
  }
  return null;
}

export const noteRange = defineRule({
  id: 'note-range',
  summary: 'Only notes that the target has.',
  block: null,
  phase: 'notes',
  codes: {
    'out-of-range': {
      title: 'Out of range',
      wrong: (f) =>
        `${f['notesText']} of “${f['name']}” ${f['one'] ? 'is' : 'are'} outside ${f['range']}: ${f['keys']}.`,
      then: (_, w) =>
        `${w.Target} has nothing there and drops ${w.notes} like these without a word.`,
    },
    'not-there': {
      title: 'Keys it does not have',
      wrong: (f) =>
        `${f['notesText']} of “${f['name']}” ${f['one'] ? 'is' : 'are'} on ${f['keys']}.`,
      then: (_, w) => `${w.Target} has no such key inside its range and stays silent.`,
    },
  },
  check({ heard, target, report }) {
    for (const part of heard()) {
      const limits = limitsFor(target, part);
      if (!limits) continue;
      const allowed = allowedKeys(limits);
      const lowest = limits.lowest ?? (limits.only ? Math.min(...limits.only) : 0);
      const highest = limits.highest ?? (limits.only ? Math.max(...limits.only) : 127);
      const inRange = allowedKeys({ lowest, highest });
      const beyond = new Places();
      const missing = new Places();
      const beyondKeys = new Set<number>();
      const missingKeys = new Set<number>();
      const { notes } = part;
      for (let i = 0; i < notes.count; i++) {
        const key = notes.noteNumber[i]!;
        if (allowed[key]) continue;
        (inRange[key] ? missing : beyond).add(part, i);
        (inRange[key] ? missingKeys : beyondKeys).add(key);
      }
      const octaves = octavesForAll(part, allowed);
      const mends = (keys: Set<number>): Mend[] => {
        const foldable = [...keys].some((key) => foldKey(key, allowed) >= 0);
        const list = [...keys].sort((a, b) => a - b);
        return [
          ...(octaves !== null
            ? [
                mend(
                  `Move the part ${octaves > 0 ? 'up' : 'down'} ${Math.abs(octaves) / 12 === 1 ? 'an octave' : `${Math.abs(octaves) / 12} octaves`}`,
                  transpose,
                  { semitones: octaves },
                  [part],
                ),
              ]
            : []),
          ...layingOut(target, part),
          ...(foldable ? [folding(list)] : []),
          mend('Leave these notes out', leaveOut, { keys: list }, [part]),
        ];
      };
      const folding = (keys: readonly number[]): Mend => {
        const rest = keys.filter((key) => foldKey(key, allowed) < 0);
        const fold = mend('Fold octaves into reach', foldOctaves, { ...limits }, [part]);
        if (rest.length === 0) return fold;
        const out = mend('', leaveOut, { keys: rest }, [part]);
        return {
          title: `${fold.title}, leave out what has no octave there`,
          steps: [...fold.steps, ...out.steps],
        };
      };
      const base = (places: Places) => ({
        part,
        ...places.found,
        allowed: { ...limits },
      });
      const facts = (places: Places, keys: Set<number>) => ({
        name: part.name,
        notesText: count(places.count, 'note'),
        one: places.count === 1 ? 1 : 0,
        range: `${noteName(lowest)}–${noteName(highest)} (${lowest}–${highest})`,
        keys: sayKeys(keys),
      });
      if (beyond.count > 0) {
        const far = [...beyondKeys].reduce((a, b) => (away(b) > away(a) ? b : a));
        report({
          code: 'out-of-range',
          ...base(beyond),
          data: facts(beyond, beyondKeys),
          measured: { value: far, unit: 'note number' },
          mends: mends(beyondKeys),
        });
      }
      if (missing.count > 0) {
        report({
          code: 'not-there',
          ...base(missing),
          data: facts(missing, missingKeys),
          measured: { value: [...missingKeys][0]!, unit: 'note number' },
          mends: mends(missingKeys),
        });
      }
      function away(key: number) {
        return Math.max(lowest - key, key - highest);
      }
    }
  },
});

/** On a chart notes are laid on lanes; where it has rungs, on those of one. */
function layingOut(target: Target, part: Part): Mend[] {
  const seat = target.seats.find((s) => s.id === part.seat);
  if (seat?.kind !== 'laneGroup') return [];
  const rungs = target.chart?.rungs?.filter((r) => r.laneNotes !== undefined) ?? [];
  const sets =
    rungs.length > 0
      ? rungs.map((r) => ({
          words: `the ${r.laneNotes!.length} lanes of rung ${r.rung}`,
          lanes: r.laneNotes!,
        }))
      : [{ words: 'the lanes', lanes: seat.laneNotes }];
  return sets.map(({ words, lanes: on }) =>
    mend(`Lay the line on ${words} by its contour`, lanes, { lanes: on, by: 'contour' }, [part]),
  );
}

export const noteCount = defineRule({
  id: 'note-count',
  summary: 'No more notes than the target holds.',
  block: 'notes',
  reads: ['most'],
  phase: 'notes',
  codes: {
    'too-many-notes': {
      title: 'Too many notes',
      wrong: (f) => `There are ${f['count']} notes.`,
      then: (f, w) => `${w.Target} holds ${f['most']} and stops reading there.`,
    },
  },
  check({ block, piece, report }) {
    const most = block.most;
    if (most === undefined) return;
    const parts = piece.score.parts.filter((p) => isIn(p) && p.notes.count > 0);
    const total = parts.reduce((n, p) => n + p.notes.count, 0);
    if (total <= most) return;
    // The part with the fewest notes that is enough on its own, else the largest.
    const over = total - most;
    const enough = parts
      .filter((p) => p.notes.count >= over)
      .sort((a, b) => a.notes.count - b.notes.count)[0];
    report({
      code: 'too-many-notes',
      data: { count: total.toLocaleString('en-GB'), most: most.toLocaleString('en-GB') },
      measured: { value: total, unit: 'notes' },
      allowed: { most },
      ...(enough
        ? {
            mends: [
              mend(
                `Leave “${enough.name}” out (${count(enough.notes.count, 'note')})`,
                leaveOut,
                {},
                [enough],
              ),
            ],
          }
        : { noMend: 'No single part is enough: leave several out, or thin them.' }),
    });
  },
});

export const barsAlike = defineRule({
  id: 'bars-alike',
  summary: 'Whether every bar is note for note the same.',
  block: 'notes',
  reads: ['barsAlike'],
  phase: 'notes',
  codes: {
    'bars-alike': {
      title: 'Every bar alike',
      wrong: (f) => `All ${f['bars']} bars of “${f['name']}” are note for note the same.`,
      then: () => 'Perhaps one bar was copied by mistake, or one bar is enough.',
    },
  },
  check({ heard, block, maps, report }) {
    if (block.barsAlike === undefined) return;
    for (const part of heard()) {
      if (part.notes.count === 0) continue;
      const { notes } = part;
      const bars = new Map<number, string[]>();
      for (let i = 0; i < notes.count; i++) {
        const bar = maps.bars.barAt(notes.start[i]!);
        const from = maps.bars.barStart(bar);
        const row = `${notes.start[i]! - from} ${notes.end[i]! - notes.start[i]!} ${notes.noteNumber[i]} ${notes.velocity[i]}`;
        const there = bars.get(bar);
        if (there) there.push(row);
        else bars.set(bar, [row]);
      }
      if (bars.size < 2) continue;
      const [first, ...rest] = [...bars.values()].map((b) => b.join('\n'));
      if (rest.some((b) => b !== first)) continue;
      report({
        code: 'bars-alike',
        severity: block.barsAlike,
        part,
        spans: [{ fromTick: notes.start[0]!, toTick: notes.end[notes.count - 1]! }],
        notes: notes.id,
        data: { bars: bars.size, name: part.name },
        measured: { value: bars.size, unit: 'bars' },
        noMend: 'Listen: leave it as is where it is meant.',
      });
    }
  },
});

function sayKeys(keys: Set<number>): string {
  const sorted = [...keys].sort((a, b) => a - b);
  const said = sorted.slice(0, 6).map((k) => `${noteName(k)} (${k})`);
  return said.join(', ') + (sorted.length > 6 ? ` and ${sorted.length - 6} more` : '');
}
