import fc from 'fast-check';
import { expect, it } from 'vitest';
import { renditionOf, song, targetWith, Track, conductor } from '../../../testing/score-builder';
import { testStep } from '../../../testing/step-tester';
import { baseOf } from '../plan/base';
import { runPlan } from '../plan/run';
import { runStep } from '../plan/run-step';
import type { NoteAddress } from '../score/address';
import { restAtStart } from './timing/rest-at-start';

const source = song([
  conductor(),
  new Track('Bells').note(1, 0, 240, 60, 90).note(1, 480, 240, 64, 90).note(1, 960, 240, 67, 90),
  new Track('Drum').note(10, 0, 120, 36, 90),
]);
const bells = { source: 'main', track: 'Bells', channel: 1, occurrence: 0 };
const at = (startTick: number, noteNumber: number): NoteAddress => ({
  part: bells,
  startTick,
  noteNumber,
  occurrence: 0,
});
const notes = [at(0, 60), at(480, 64), at(960, 67)];
const keysOf = (r: ReturnType<typeof renditionOf>, part = 'Bells') => {
  const found = r.pieces[0]!.score.parts.find((p) => p.name === part)!.notes;
  return Array.from({ length: found.count }, (_, i) => [
    found.start[i],
    found.end[i]! - found.start[i]!,
    found.noteNumber[i],
    found.velocity[i],
  ]);
};

testStep('by-hand', [
  {
    name: 'each note as it was done: moved, lengthened, taken out, drawn',
    source,
    scope: { notes },
    params: {
      edits: [
        { note: 0, ticks: 1000, semitones: 1 },
        { note: 1, gone: true },
        { note: 2, longerTicks: -230, louder: -70 },
      ],
      drawn: [{ part: bells, tick: 1440, lengthTicks: 60, noteNumber: 72, velocity: 50 }],
    },
    effect: { notesChanged: 2, notesDropped: 1, notesAdded: 1 },
    expect: (after) => {
      expect(keysOf(after)).toEqual([
        [960, 10, 67, 20],
        [1000, 240, 61, 90],
        [1440, 60, 72, 50],
      ]);
      expect(keysOf(after, 'Drum')).toEqual([[0, 120, 36, 90]]);
    },
  },
  {
    name: 'a note before the start is refused, and nothing is done',
    source,
    scope: { notes },
    params: {
      edits: [
        { note: 0, semitones: 3 },
        { note: 1, ticks: -481 },
      ],
    },
    refused: /before its start/,
  },
  {
    name: 'what was drawn goes along when an earlier step moves the music',
    source,
    params: { drawn: [{ part: bells, tick: 0, lengthTicks: 60, noteNumber: 72, velocity: 50 }] },
    effect: { notesAdded: 1 },
  },
]);

it('notes that are no longer there are named, the others are edited', () => {
  const scope = { notes: [at(1, 60), at(960, 67)] };
  const params = {
    edits: [
      { note: 0, gone: true },
      { note: 1, semitones: -7 },
    ],
  };
  const before = renditionOf(source, targetWith({ seats: [] }));
  const { outcome, rendition } = runStep(
    before,
    { step: 'by-hand', params, scope },
    baseOf(source),
  );
  expect(outcome.missing.notes).toEqual([at(1, 60)]);
  expect(keysOf(rendition).map((n) => n[2])).toEqual([60, 64, 60]);
});

it('drawn notes stand on the ticks of the base, wherever a rest put them', () => {
  const drawn = [{ part: bells, tick: 960, lengthTicks: 60, noteNumber: 72, velocity: 50 }];
  const step = (id: string, params: unknown) => ({
    key: id,
    step: id,
    params,
    scope: {},
    on: true,
  });
  const { rendition } = runPlan({
    base: baseOf(source),
    target: targetWith({ seats: [] }),
    plan: { steps: [step(restAtStart.id, { bars: 1 }), step('by-hand', { drawn })] },
  });
  expect(keysOf(rendition).at(-1)).toEqual([960 + 1920, 60, 72, 50]);
});

it('editing nothing changes nothing; edits there and back are the identity', () => {
  const before = renditionOf(source, targetWith({ seats: [] }));
  const run = (from: typeof before, params: unknown) =>
    runStep(from, { step: 'by-hand', params, scope: { notes } }, baseOf(source)).rendition;
  expect(run(before, { edits: [] }).pieces[0]).toBe(before.pieces[0]);
  fc.assert(
    fc.property(fc.nat(2), fc.nat(3000), fc.integer({ min: -60, max: 60 }), (note, ticks, up) => {
      const there = run(before, { edits: [{ note, ticks, semitones: up }] });
      const back = run(there, { edits: [{ note, ticks: -ticks, semitones: -up }] });
      expect(keysOf(back)).toEqual(keysOf(before));
    }),
  );
});
