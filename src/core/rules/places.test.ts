import fc from 'fast-check';
import { expect, it } from 'vitest';
import { SpanList } from './define-rule';

const spansOf = (notes: readonly (readonly [start: number, end: number])[]) => {
  const places = new SpanList();
  const columns = {
    id: Uint32Array.from(notes, (_, i) => i + 1),
    start: Int32Array.from(notes, ([start]) => start),
    end: Int32Array.from(notes, ([, end]) => end),
  };
  notes.forEach((_, i) => places.addNote(columns, i));
  return places.spans.map((s) => [s.fromTick, s.toTick]);
};

it('a place reaches to the end of its longest note, whichever comes last', () => {
  expect(
    spansOf([
      [0, 960],
      [120, 240],
      [960, 970],
      [1200, 1200],
    ]),
  ).toEqual([
    [0, 970],
    [1200, 1201],
  ]);
});
it('places cover each tick of each note and no other, apart and in order', () => {
  const note = fc
    .tuple(fc.nat(60), fc.nat(20))
    .map(([start, long]) => [start, start + long] as const);
  fc.assert(
    fc.property(fc.array(note, { maxLength: 12 }), (notes) => {
      const inside = (tick: number) =>
        notes.some(([start, end]) => tick >= start && tick < Math.max(end, start + 1));
      const spans = spansOf(notes);
      for (let tick = 0; tick < 90; tick++)
        expect(spans.some(([from, to]) => tick >= from! && tick < to!)).toBe(inside(tick));
      spans.slice(1).forEach(([from], i) => expect(from).toBeGreaterThan(spans[i]![1]!));
    }),
  );
});
