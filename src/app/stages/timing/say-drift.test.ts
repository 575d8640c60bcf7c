import { describe, expect, it } from 'vitest';
import { isFlat, sayDrift, sayOff } from './say-drift';

describe('a drift in words', () => {
  it('is one number where it is flat, and a range with both ends where it is not', () => {
    expect(sayDrift([5614, 5620, 5625], 20)).toBe('5.62 s all along');
    expect(sayDrift([0, 120, -40, 90], 20)).toBe(
      'from −40 ms to 120 ms, 0 ms at the start, 90 ms at the end',
    );
    expect(sayDrift([], 20)).toBe('no note is matched with another');
  });
  it('two milliseconds are flat for the strictest, and what the target lets pass', () => {
    expect([
      isFlat([0, 2], 0),
      isFlat([0, 3], 0),
      isFlat([0, 40], 20),
      isFlat([0, 40], 40),
    ]).toEqual([true, false, false, true]);
  });
  it('has a true minus, and seconds from one second on', () => {
    expect([sayOff(-3), sayOff(999), sayOff(1000), sayOff(-5625)]).toEqual(['−3 ms', '999 ms', '1 s', '−5.62 s']); // prettier-ignore
  });
});
