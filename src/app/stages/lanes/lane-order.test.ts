import { describe, expect, it } from 'vitest';
import { orderOf } from './lane-order';

describe('lanes as they are typed', () => {
  it.each([
    ['1 2 3 2', 5, [1, 2, 3, 2]],
    ['1,2, 3;2', 5, [1, 2, 3, 2]],
    ['1-2-3', 5, [1, 2, 3]],
    ['1232', 5, [1, 2, 3, 2]],
    ['  5 ', 5, [5]],
    // With ten lanes and more digits alone would say several things.
    ['12', 12, [12]],
    ['1 12', 12, [1, 12]],
  ])('%s on %i lanes', (typed, lanes, order) => {
    expect(orderOf(typed, lanes)).toEqual({ order });
  });
  it.each([
    ['', 5, /at least one/],
    ['0', 5, /“0” is no lane/],
    ['1 6', 5, /“6” is no lane: they are 1 to 5/],
    ['1 x', 5, /“x” is no lane/],
    ['1.5', 5, /“\.” is no lane/],
    ['-1 1e3', 12, /“1e3” is no lane/],
    [Array.from({ length: 513 }, () => 1).join(' '), 5, /At most 512/],
  ])('%s on %i lanes is refused in words', (typed, lanes, wrong) => {
    const read = orderOf(typed, lanes);
    expect('wrong' in read && read.wrong).toMatch(wrong);
  });
});
