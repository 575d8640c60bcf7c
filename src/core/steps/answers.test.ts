import { describe, expect, it } from 'vitest';
import { conductor, rows, song, targetWith, Track } from '../../../testing/score-builder';
import { testStep } from '../../../testing/step-tester';
import { META_LYRIC } from '../../../demo/song';
import { compareById } from '../compare/by-id';
import { baseOf } from '../plan/base';
import { runPlan } from '../plan/run';
import type { PlanStep } from '../plan/plan';
import { makeRecipe, recipeFor } from '../plan/use-recipe';
import { textOf, type NoteColumns } from '../score/score';
import { handsOf } from './hands';

const target = targetWith({ seats: [] });
const step = (id: string, params: unknown, scope = {}): PlanStep => ({
  key: id,
  step: id,
  params,
  scope,
  on: true,
});
const ranOf = (source: Parameters<typeof baseOf>[0], ...steps: PlanStep[]) =>
  runPlan({ base: baseOf(source), target, plan: { steps } });

/** Bank 1 and program 5 from the start, bank 2 and program 9 from the third note on. */
const banked = song([
  conductor(),
  new Track('A')
    .control(0, 1, 0, 1)
    .program(0, 1, 5)
    .note(1, 0, 240, 60, 90)
    .note(1, 480, 240, 62, 90)
    .control(960, 1, 0, 2)
    .program(960, 1, 9)
    .note(1, 960, 240, 64, 90),
]);
testStep('set-program', [
  {
    name: 'that keeps the bank keeps it before the program',
    source: banked,
    params: { program: 5, keepBank: true },
    expect: (after, before) => {
      const { events } = after.pieces[0]!.score.parts[0]!;
      const list = Array.from(events.kind, (kind, i) => [
        events.tick[i],
        kind,
        events.data1[i],
        events.data2[i],
      ]);
      expect(list.slice(0, 2)).toEqual([
        [0, 0xb0, 0, 1],
        [0, 0xc0, 5, 0],
      ]);
      // One note was due to change: the one that the second program was for.
      const { soundChanged } = compareById(before.pieces[0]!, after.pieces[0]!);
      expect(soundChanged).toBe(1);
    },
  },
]);

const sung = song([
  conductor().marker(0, 'Ebb').marker(960, 'Flood'),
  new Track('Voice')
    .text(0, META_LYRIC, '\nsalt')
    .text(960, META_LYRIC, '\nrope')
    .text(1920, META_LYRIC, '\nlow')
    .note(1, 0, 240, 60, 90),
  new Track('Other').text(480, META_LYRIC, '\nelse').note(2, 480, 240, 60, 90),
]);
describe('captions keep to their scope', () => {
  const captionsOf = (...steps: PlanStep[]) =>
    (ranOf(sung, ...steps).rendition.pieces[0]!.captions ?? []).map((c) => [c.tick, c.text]);
  const all = [
    [0, 'salt'],
    [480, 'else'],
    [960, 'rope'],
    [1920, 'low'],
  ];
  it('lyrics of a stretch', () => {
    expect(captionsOf(step('captions', { from: 'lyrics' }))).toEqual(all);
    expect(
      captionsOf(step('captions', { from: 'lyrics' }, { fromTick: 900, toTick: 1000 })),
    ).toEqual([[960, 'rope']]);
  });
  it('lyrics of a part', () => {
    const parts = [{ source: 'main', track: 'Other', channel: 2, occurrence: 0 }];
    expect(captionsOf(step('captions', { from: 'lyrics' }, { parts }))).toEqual([[480, 'else']]);
  });
  it('markers of a stretch, and what is shown elsewhere stays', () => {
    expect(
      captionsOf(
        step('captions', { from: 'lyrics' }),
        step('captions', { from: 'markers' }, { fromTick: 900, toTick: 1000 }),
      ),
    ).toEqual(all.map(([tick, text]) => (tick === 960 ? [960, 'Flood'] : [tick, text])));
  });
  it('those that are there, broken anew in a stretch alone', () => {
    const lines = { from: 'list', lines: ['one two three', 'four five six'] };
    expect(
      captionsOf(
        step('captions', lines),
        step('captions', { from: 'present', longestLine: 4 }, { fromTick: 400 }),
      ),
    ).toEqual([
      [0, 'one two three'],
      [480, 'four\nfive\nsix'],
    ]);
  });
});

it('a carved file holds the words that are sung in it, and its names', () => {
  const places = [1, 2, 3].map((bar) => ({
    place: `p${bar}`,
    fileName: `p${bar}.mid`,
    fromBar: bar,
    bars: 1,
  }));
  const source = song(
    [
      conductor(),
      new Track('Voice')
        .text(0, META_LYRIC, 'salt')
        .text(1920, META_LYRIC, 'rope')
        .note(1, 0, 240, 60, 90)
        .note(1, 1920, 240, 60, 90)
        .note(1, 3840, 240, 60, 90),
    ],
    { endTick: 5760 },
  );
  const { rendition } = ranOf(source, step('carve', { places }));
  const texts = (type: number) =>
    rendition.pieces.map((p) =>
      p.score.tracks.flatMap((t) => t.events.filter((e) => e.type === type).map(textOf)),
    );
  expect(texts(META_LYRIC)).toEqual([['salt'], ['rope'], []]);
  expect(texts(3)).toEqual([['Voice'], ['Voice'], ['Voice']]);
});

describe('hands', () => {
  const columns = (notes: readonly [start: number, key: number][]): NoteColumns => {
    const [part] = song([
      conductor(),
      notes.reduce((t, [start, key]) => t.note(1, start, 100, key, 90), new Track('A')),
    ]).score.parts;
    return part!.notes;
  };
  it('of any chord: 140,000 notes at one tick end, and notes of a key stay together', () => {
    const count = 140_000;
    const one = columns([[0, 60]]);
    const notes = {
      ...one,
      count,
      start: new Int32Array(count),
      end: new Int32Array(count).fill(10),
      noteNumber: Uint8Array.from({ length: count }, (_, i) => 21 + (i % 88)),
    };
    const group = handsOf(notes);
    const byKey = new Map<number, Set<number>>();
    for (let i = 0; i < count; i++) {
      const key = notes.noteNumber[i]!;
      byKey.set(key, (byKey.get(key) ?? new Set()).add(group[i]!));
    }
    for (const [key, hands] of byKey) expect(hands.size, `key ${key}`).toBe(1);
    expect([...byKey.get(21)!, ...byKey.get(108)!]).toEqual([0, 1]);
  });
  it('the low notes of a chord are the left hand’s', () => {
    const group = handsOf(
      columns([
        [0, 40],
        [0, 47],
        [0, 72],
        [0, 76],
      ]),
    );
    expect([...group]).toEqual([0, 0, 1, 1]);
  });
});

it('a recipe names in other sources whatever its parameters name', () => {
  const part = { source: 'main', track: 'A', channel: 1, occurrence: 0 };
  const address = { part, startTick: 0, noteNumber: 60, occurrence: 0 };
  const plan = { steps: [step('split', { by: 'hand', turned: [address] }, { parts: [part] })] };
  const recipe = makeRecipe('R', target, plan, [], [{ key: 'main', name: 'a.mid' }]);
  const made = recipeFor(recipe, [{ key: 'other', name: 'a.mid' }]);
  const params = made.steps[0]!.params as { by: string; turned: (typeof address)[] };
  expect(params).toEqual({
    by: 'hand',
    turned: [{ ...address, part: { ...part, source: 'other' } }],
  });
});

it('what follows the score follows the file that it came from, after a carving too', () => {
  const source = song([conductor(), new Track('A').note(1, 0, 240, 60, 90)], { endTick: 3840 });
  const later = song([conductor(), new Track('B').note(1, 960, 240, 60, 90)], { endTick: 3840 });
  const base = baseOf(
    [{ ...source }, { ...later, key: 'b', name: 'b.mid' }],
    [{ source: 'b', as: 'file' }],
  );
  const places = [1, 2].map((bar) => ({
    place: `p${bar}`,
    fileName: `p${bar}.mid`,
    fromBar: bar,
    bars: 1,
  }));
  const steps = [step('carve', { places }, { file: 'test.mid' })];
  const { rendition } = runPlan({ base, target, plan: { steps } });
  expect(rendition.pieces.map((p) => p.base ?? 0)).toEqual([0, 0, 1]);
  expect(rows(rendition.pieces[2]!.score.parts[0]!.notes)[0]![0]).toBe(960);
});
