import { importanceOf } from '../../reading/importance/importance';
import type { Mend } from '../finding';
import type { Part } from '../../score/score';
import type { Target } from '../../target/schema';
import { SpanList, defineRule, mend, mendBy, says } from '../define-rule';
import { allowedKeys, limitsFor, type Limits } from '../../target/limits';
import { count, noteName } from '../../target/words';
import { foldKey, foldOctaves, transpose } from '../../steps/pitch';
import { lanes } from '../../steps/keys';
import { bringIntoReach } from '../../steps/reach';
import { leaveOut } from '../../steps/routing';
import { alike, sayMoves, transpositionFor, type Common } from './transposition';

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
  story: {
    why: 'A line was written for another instrument, or sounds an octave from where it is written.',
    mends:
      'Move the part by octaves, fold single notes, lay a line on lanes, or leave the notes out.',
  },
  block: null,
  phase: 'notes',
  codes: {
    'out-of-range': says<{
      name: string;
      notesText: string;
      one: number;
      range: string;
      keys: string;
    }>({
      title: 'Notes out of range',
      wrong: (f) =>
        `${f.notesText} of “${f.name}” ${f.one ? 'is' : 'are'} outside ${f.range}: ${f.keys}.`,
      then: (_, w) =>
        `${w.Target} has nothing there and drops ${w.notes} like these without a word.`,
    }),
    'not-there': says<{
      name: string;
      notesText: string;
      one: number;
      range: string;
      keys: string;
    }>({
      title: 'Notes on keys that do not exist',
      wrong: (f) => `${f.notesText} of “${f.name}” ${f.one ? 'is' : 'are'} on ${f.keys}.`,
      then: (_, w) => `${w.Target} has no such key inside its range and stays silent.`,
    }),
  },
  check({ heard, target, piece, base, report }) {
    // Looked for where a note has no key, and then once.
    let known: Common | null | undefined;
    const commonFor = () => {
      if (known !== undefined) return known;
      const weights = importanceOf(base.rendition.pieces[piece.base ?? 0]!.score);
      known = transpositionFor([...heard()], target, weights);
      return known;
    };
    for (const part of heard()) {
      const limits = limitsFor(target, part);
      if (!limits) continue;
      const allowed = allowedKeys(limits);
      const only = limits.only?.length ? limits.only : null;
      const lowest = limits.lowest ?? (only ? Math.min(...only) : 0);
      const highest = limits.highest ?? (only ? Math.max(...only) : 127);
      const inRange = (key: number) => key >= lowest && key <= highest;
      const beyond = new SpanList();
      const missing = new SpanList();
      const beyondKeys = new Set<number>();
      const missingKeys = new Set<number>();
      const { notes } = part;
      for (let i = 0; i < notes.count; i++) {
        const key = notes.noteNumber[i]!;
        if (allowed[key]) continue;
        (inRange(key) ? missing : beyond).add(part, i);
        (inRange(key) ? missingKeys : beyondKeys).add(key);
      }
      if (beyond.count + missing.count === 0) continue;
      const common = commonFor();
      const octaves = octavesForAll(part, allowed);
      const mends = (keys: Set<number>): Mend[] => {
        const foldable = [...keys].some((key) => foldKey(key, allowed) >= 0);
        const list = [...keys].sort((a, b) => a - b);
        const onLanes = target.seats.find((s) => s.id === part.seat)?.kind === 'laneGroup';
        // Lanes have no pitch: there a line is laid out, and octaves say nothing.
        if (onLanes)
          return [
            ...layingOut(target, part),
            mend('Leave these notes out', leaveOut, { keys: list }, [part]),
          ];
        const first = common?.gains ? together(list) : [];
        return [
          ...first,
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
          ...(first.length > 0 ? [] : together(list)),
          ...(foldable ? [byPhrase(list)] : []),
          ...(foldable ? [folding(list)] : []),
          // A few strays do not become what the one key stands for.
          ...(limits.only?.length === 1 && beyond.count + missing.count < notes.count / 2
            ? []
            : [toNearest()]),
          mend('Leave these notes out', leaveOut, { keys: list }, [part]),
        ];
      };
      /** All pitched parts alike, each in its octave, where that brings many more into reach. */
      const together = (list: readonly number[]): Mend[] => {
        if (!common || list.length === 0 || common.moves.every((m) => m.by === 0)) return [];
        const { share, now, moves } = common;
        const nearest = share > 0.9999 ? {} : { nearest: true };
        const steps = [
          ...alike(moves, (m) => m.by).flatMap(([by, parts]) =>
            by === 0 ? [] : mend('', transpose, { semitones: by }, parts).steps,
          ),
          ...alike(
            moves.filter((m) => m.limits !== null),
            (m) => JSON.stringify(m.limits),
          ).flatMap(
            ([said, parts]) =>
              mend('', bringIntoReach, { ...(JSON.parse(said) as Limits), ...nearest }, parts)
                .steps,
          ),
        ];
        const rest = share > 0.9999 ? '' : ', the rest to the nearest key';
        return [
          mendBy(
            `${sayMoves(common)}${rest}: ${percent(share)} fit (now ${percent(now)})`,
            ...steps,
          ),
        ];
      };
      const byPhrase = (keys: readonly number[]): Mend => {
        const rest = keys.filter((key) => foldKey(key, allowed) < 0);
        const bring = mend('Move phrases by octaves into reach', bringIntoReach, { ...limits }, [
          part,
        ]);
        if (rest.length === 0) return bring;
        const out = mend('', leaveOut, { keys: rest }, [part]);
        return mendBy(
          `${bring.title}, leave out what has no octave there`,
          ...bring.steps,
          ...out.steps,
        );
      };
      const toNearest = (): Mend =>
        mend(
          limits.only?.length === 1
            ? `Put all on ${noteName(limits.only[0]!)}`
            : 'Move phrases by octaves, the rest to the nearest key',
          bringIntoReach,
          { ...limits, nearest: true },
          [part],
        );
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
      const told = (places: SpanList) => ({
        part,
        ...places.found,
        allowed: { ...limits },
      });
      const facts = (places: SpanList, keys: Set<number>) => ({
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
          ...told(beyond),
          data: facts(beyond, beyondKeys),
          measured: { value: far, unit: 'note number' },
          // Whole phrases before single notes: a line keeps its contour, though more of it is moved.
          ranked: true,
          mends: mends(beyondKeys),
        });
      }
      if (missing.count > 0) {
        report({
          code: 'not-there',
          ...told(missing),
          data: facts(missing, missingKeys),
          measured: { value: [...missingKeys][0]!, unit: 'note number' },
          // Whole phrases before single notes: a line keeps its contour, though more of it is moved.
          ranked: true,
          mends: mends(missingKeys),
        });
      }
      function away(key: number) {
        return Math.max(lowest - key, key - highest);
      }
    }
  },
});

const percent = (share: number) => `${Math.round(share * 100)} %`;

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

function sayKeys(keys: Set<number>): string {
  const sorted = [...keys].sort((a, b) => a - b);
  const said = sorted.slice(0, 6).map((k) => `${noteName(k)} (${k})`);
  return said.join(', ') + (sorted.length > 6 ? ` and ${sorted.length - 6} more` : '');
}
