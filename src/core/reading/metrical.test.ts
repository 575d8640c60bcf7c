import { expect, it } from 'vitest';
import { makeMeterMap } from '../time/meter-map';
import { strengthAt } from './metrical';

it('places of 4/4 by their strength', () => {
  const at = strengthAt(makeMeterMap(480, []));
  const order = [0, 960, 480, 240, 320, 120, 60].map(at);
  expect(order).toEqual([...order].sort((a, b) => b - a));
  expect(new Set(order).size).toBe(order.length);
  expect(at(1920)).toBe(at(0));
});

it('a note played early belongs to the beat that it comes to, and is a little weaker', () => {
  const at = strengthAt(makeMeterMap(480, []));
  expect(at(1920 - 20)).toBeLessThan(at(1920));
  expect(at(1920 - 20)).toBeGreaterThan(at(480));
});

it('in 6/8 three eighths are a beat, in 3/4 there is no middle', () => {
  const compound = strengthAt(makeMeterMap(480, [{ tick: 0, numerator: 6, denominator: 8 }]));
  expect(compound(720)).toBeGreaterThan(compound(240));
  expect(compound(720)).toBeGreaterThan(compound(480));
  const three = strengthAt(makeMeterMap(480, [{ tick: 0, numerator: 3, denominator: 4 }]));
  expect(three(480)).toBe(three(960));
  expect(three(1440)).toBe(1);
});
