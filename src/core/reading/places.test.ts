import { expect, it } from 'vitest';
import { builtIn } from '../../../testing/score-builder';
import { inPlaces, placesOf } from './places';

const places = placesOf(builtIn('stomp-crate').seats);
const bars = (whole: number, over = 0) => ({ whole, over });
const at = (...lengths: ReturnType<typeof bars>[]) => inPlaces(lengths, places).map((s) => s?.id);

it('files take places one after the other: what may not be empty, then what takes them', () => {
  expect(at(bars(4), bars(4), bars(16))).toEqual(['b1', 'b2', 'b3']);
  // Half a bar is no bed; the final hit takes it.
  expect(at(bars(4), bars(0, 0.5))).toEqual(['b1', 'hit']);
  // Longer than all of them: a bed is cut, no break.
  expect(at(bars(4), bars(40))).toEqual(['b1', 'b2']);
  // What plays nothing is put nowhere for its length.
  expect(at(bars(4), bars(4), bars(0))).toEqual(['b1', 'b2', 'b3']);
});

it('no place is taken twice, and the last files find none', () => {
  const all = at(...Array.from({ length: places.length + 2 }, (_, i) => bars(1 + (i % 3))));
  const taken = all.slice(0, places.length);
  expect(new Set(taken).size).toBe(places.length);
  expect(all.slice(places.length)).toEqual([undefined, undefined]);
});
