import { isIn, type Part } from '../score/score';
import { allowedKeys, foldKey, foldOctaves, transpose } from '../steps/pitch';
import { leaveOut } from '../steps/routing';
import type { Mend } from '../diagnostic/finding';
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
  block: 'notes',
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
  check({ block, piece, report }) {
    const allowed = allowedKeys(block);
    const inRange = allowedKeys({ lowest: block.lowest, highest: block.highest });
    const { lowest = 0, highest = 127 } = block;
    for (const part of piece.score.parts) {
      if (!isIn(part)) continue;
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
      const limits = {
        lowest,
        highest,
        ...(block.without ? { without: [...block.without] } : {}),
        ...(block.only ? { only: [...block.only] } : {}),
      };
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
          ...(foldable ? [mend('Fold octaves into reach', foldOctaves, limits, [part])] : []),
          mend('Leave these notes out', leaveOut, { keys: list }, [part]),
        ];
      };
      const base = (places: Places) => ({
        part,
        ...places.found,
        allowed: limits,
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

function sayKeys(keys: Set<number>): string {
  const sorted = [...keys].sort((a, b) => a - b);
  const said = sorted.slice(0, 6).map((k) => `${noteName(k)} (${k})`);
  return said.join(', ') + (sorted.length > 6 ? ` and ${sorted.length - 6} more` : '');
}
