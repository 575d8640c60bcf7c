import { importanceOf, type Importance } from '../../reading/importance/importance';
import type { Mend } from '../finding';
import type { Part } from '../../score/score';
import type { Target } from '../../target/schema';
import { SpanList, defineRule, mend, mendBy, says } from '../define-rule';
import { allowedKeys, limitsFor } from '../../target/limits';
import { count, noteName } from '../../target/words';
import { foldKey, foldOctaves, transpose } from '../../steps/pitch';
import { lanes } from '../../steps/keys';
import { bringIntoReach } from '../../steps/reach';
import { leaveOut } from '../../steps/routing';

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
      const lowest = limits.lowest ?? (limits.only ? Math.min(...limits.only) : 0);
      const highest = limits.highest ?? (limits.only ? Math.max(...limits.only) : 127);
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
      /** All pitched parts alike, where that brings many more into reach. */
      const together = (list: readonly number[]): Mend[] => {
        if (!common || common.semitones === 0) return [];
        const { semitones: by, share, now } = common;
        const step = mend('', transpose, { semitones: by }, common.parts);
        const all = share > 0.9999;
        const rest = mend('', bringIntoReach, { ...limits, ...(all ? {} : { nearest: true }) }, [
          part,
        ]);
        const way = `Everything ${by > 0 ? 'up' : 'down'} ${count(Math.abs(by), 'semitone')}`;
        return list.length === 0
          ? []
          : [
              mendBy(
                `${way}${all ? '' : ', the rest to the nearest key'}: ${percent(share)} fit (now ${percent(now)})`,
                ...step.steps,
                ...rest.steps,
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
          ranked: common?.gains ?? false,
          mends: mends(beyondKeys),
        });
      }
      if (missing.count > 0) {
        report({
          code: 'not-there',
          ...told(missing),
          data: facts(missing, missingKeys),
          measured: { value: [...missingKeys][0]!, unit: 'note number' },
          ranked: common?.gains ?? false,
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

interface Common {
  readonly semitones: number;
  readonly parts: readonly Part[];
  /** Shares of their notes that the target has, after and now; an octave away counts as having it. */
  readonly share: number;
  readonly now: number;
  /** Some of the music has no key in any octave now, and has one after. */
  readonly gains: boolean;
}

/** So much of the music is worth that all of it is transposed before anything else is done. */
const GAIN = 0.01;
const worthAt = ({ direct, folded }: { direct: number; folded: number }) => direct + folded;

/**
 * The one transposition of everything that sounds together, drums excepted, under which most of the
 * music has a key or one of its octaves, the tune and the bass before the rest; fewer semitones of two
 * that are as good.
 */
function transpositionFor(
  parts: readonly Part[],
  target: Target,
  { weight }: Importance,
): Common | null {
  const pitched = parts.filter(
    (p) => p.channel !== 10 && target.seats.find((s) => s.id === p.seat)?.kind !== 'laneGroup',
  );
  const limited = pitched.flatMap((part) => {
    const limits = limitsFor(target, part);
    if (!limits || limits.only?.length === 1) return [];
    const keys = new Uint32Array(128);
    const weights = new Float64Array(128);
    for (let i = 0; i < part.notes.count; i++) {
      const key = part.notes.noteNumber[i]!;
      keys[key]!++;
      weights[key]! += weight[part.notes.origin[i]!] || 1;
    }
    return [{ keys, weights, allowed: allowedKeys(limits) }];
  });
  if (limited.length === 0) return null;
  const sum = (of: 'keys' | 'weights') => {
    let all = 0;
    for (const { [of]: counted } of limited) for (const n of counted) all += n;
    return all;
  };
  const total = sum('weights');
  const fits = (by: number, of: 'keys' | 'weights') => {
    let direct = 0;
    let folded = 0;
    for (const { [of]: counted, allowed } of limited)
      for (let key = 0; key < 128; key++) {
        if (counted[key] === 0) continue;
        if (allowed[key + by]) direct += counted[key]!;
        else if (key + by >= 0 && key + by < 128 && foldKey(key + by, allowed) >= 0)
          folded += counted[key]!;
      }
    return { direct, folded };
  };
  const reaches = (by: number) =>
    pitched.every((p) => {
      for (let i = 0; i < p.notes.count; i++) {
        const key = p.notes.noteNumber[i]! + by;
        if (key < 0 || key > 127) return false;
      }
      return true;
    });
  const now = fits(0, 'weights');
  let best = 0;
  let most = now.direct + now.folded * 0.9;
  for (let n = 1; n <= 36; n++)
    for (const by of [n, -n]) {
      const { direct, folded } = fits(by, 'weights');
      // Octaves are preferred; another key must bring more than a few notes.
      const worth = (direct + folded * 0.9) * (by % 12 === 0 ? 1 : 0.985) - total * 0.0004 * n;
      if (worth <= most || !reaches(by)) continue;
      most = worth;
      best = by;
    }
  const after = fits(best, 'keys');
  const notes = sum('keys');
  return {
    semitones: best,
    parts: pitched,
    share: (after.direct + after.folded) / notes,
    now: fits(0, 'keys').direct / notes,
    gains: worthAt(fits(best, 'weights')) - worthAt(now) > total * GAIN,
  };
}

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
