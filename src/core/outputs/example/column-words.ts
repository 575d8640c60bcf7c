import type { Value } from '../../formats/own/schema';
import type { World } from '../own/world';
import { valueOf } from '../own/values';
import type { Attempt, Candidate, Column, Explained } from './candidates';

/** With a word for each row a table says nothing that could fail: then they are names at least. */
const isName = (word: string): boolean => /^[\p{L}\p{N} #♯♭_]{1,24}$/u.test(word);

/** Keys by a table of words, where each key always has the same. */
export function words(column: Column, { list }: Candidate, world: World, attempt: Attempt) {
  const table = new Map<number, string>();
  for (let i = 0; i < list.length; i++) {
    const key = list[i]!.key ?? world.notes.key[list[i]!.note!]!;
    const there = table.get(key);
    if (there !== undefined && there !== column.cells[i]) return;
    table.set(key, column.cells[i]!);
  }
  if (table.size < 2 || new Set(table.values()).size < 2) return;
  if (table.size === list.length && ![...table.values()].every(isName)) return;
  const sorted = [...table].sort((a, b) => a[0] - b[0]);
  const own = Object.fromEntries(sorted.map(([k, w]) => [String(k), w]));
  attempt({ is: 'key', as: 'word', words: own }, `key by a table of ${table.size} words`);
}

export function texts(column: Column, candidate: Candidate, world: World, attempt: Attempt): void {
  const { rows, list, at } = candidate;
  const keyed = rows.of === 'notes' || rows.of === 'events' || rows.of === 'lanes';
  if (keyed) {
    for (const sharps of ['#', '♯', 's', 'b', '♭'] as const)
      for (const middleC of [4, 3, 5])
        attempt(
          {
            is: 'key',
            as: 'name',
            ...(sharps === '#' ? {} : { sharps }),
            ...(middleC === 4 ? {} : { middleC }),
          },
          `name of the note, C${middleC} = 60`,
        );
  }
  if (keyed)
    for (const names of MIXED)
      for (const middleC of [4, 3, 5])
        attempt(
          { is: 'key', as: 'name', names: [...names], ...(middleC === 4 ? {} : { middleC }) },
          `name of the note, sharps and flats mixed, C${middleC} = 60`,
        );
  for (const is of ['seat', 'part', 'track'] as const)
    attempt({ is, as: 'name' }, `name of the ${is}`);
  if (rows.of === 'markers' || rows.of === 'captions' || rows.of === 'changes')
    attempt({ is: 'text' }, 'its text');
  if (rows.of === 'changes') attempt({ is: 'signature' }, 'key signature');
  for (const is of ['seat', 'part', 'track'] as const) {
    const table = new Map<string, string>();
    let holds = true;
    for (let i = 0; i < list.length && holds; i++) {
      const said = valueOf({ is, as: 'name' }, at[i]!.row, at[i]!.beside);
      if (said === null || !('text' in said)) holds = false;
      else if ((table.get(said.text) ?? column.cells[i]) !== column.cells[i]) holds = false;
      else table.set(said.text, column.cells[i]!);
    }
    const isTold = table.size < list.length || [...table.values()].every(isName);
    if (holds && isTold && table.size > 1 && new Set(table.values()).size > 1)
      attempt({ is, as: 'word', words: Object.fromEntries(table) }, `${is} by a table of words`);
  }
  if (keyed) words(column, candidate, world, attempt);
}

type Part = readonly [unit: string, from: string | undefined];
const CLOCKS: readonly (readonly (readonly Part[])[])[] = [
  [[['hours', undefined]], [['minutes', 'hour']], [['seconds', 'minute']]],
  [
    [['hours', undefined]],
    [['minutes', 'hour']],
    [['seconds', 'minute']],
    [
      ['ms', 'second'],
      ['frames', 'second'],
    ],
  ],
  [
    [['minutes', undefined]],
    [['seconds', 'minute']],
    [
      ['ms', 'second'],
      ['frames', 'second'],
    ],
  ],
];

/**
 * Several numbers as a clock from hours or minutes down, where each can be the next part of it; null
 * where they are none. Zeros alone say nothing: something of it has to move.
 */
export function clockParts(found: readonly (readonly Explained[])[]): Explained[] | null {
  for (const clock of CLOCKS) {
    if (clock.length !== found.length) continue;
    const parts = clock.map((ways, i) =>
      ways
        .map(([unit, from]) =>
          found[i]!.find(
            (e) => e.value.is === 'time' && e.value.unit === unit && e.value.from === from,
          ),
        )
        .find((e) => e !== undefined),
    );
    const moves = found.some((own) => own.every((e) => e.value.is !== 'constant'));
    if (moves && parts.every((p) => p !== undefined)) return parts;
  }
  return null;
}

/** Behind whole minutes stand the seconds of the minute, however short the example is. */
export function clockPart(
  found: readonly Explained[],
  before: readonly (string | Value)[],
): Explained | undefined {
  const is = (unit: string, from: string | undefined) => (e: Explained) =>
    e.value.is === 'time' && e.value.unit === unit && e.value.from === from;
  const last = before.filter((p) => typeof p !== 'string').at(-1);
  if (last?.is === 'time' && last.unit === 'minutes') {
    const of = found.find(is('seconds', 'minute')) ?? found.find(is('ms', 'minute'));
    if (of) return of;
  }
  if (last === undefined) {
    const minutes = found.find(is('minutes', undefined));
    if (minutes) return minutes;
  }
  return found.find((e) => e.value.is !== 'constant') ?? found[0];
}

/** The names that are used most where sharps and flats are mixed. */
const MIXED: readonly (readonly string[])[] = [
  ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'A♭', 'A', 'B♭', 'B'],
  ['C', 'C#', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'],
];
