import { expect } from 'vitest';

/*
 * Eight times the input may take some ten times the time. What takes the square of it takes sixty-four
 * times: that is told apart on any machine, however busy it is.
 */
const TIMES = 8;
const MOST = 28;
/** What is measured below this is the clock, and the warming of the compiler. */
const FLOOR_MS = 12;

/** Once: what was disturbed is timed again by who asks. */
function timed(work: () => unknown): number {
  const begun = performance.now();
  work();
  return performance.now() - begun;
}

/**
 * Holds that work grows as its input does.
 * @param make prepares an input of some size; what it gives back is what is timed
 */
export function grows(make: (size: number) => () => unknown, size: number): void {
  const small = make(size);
  small();
  const large = make(size * TIMES);
  let said = '';
  // What grows too fast does so every time; what was only disturbed does not.
  for (let i = 0; i < 4; i++) {
    const [a, b] = [timed(small), timed(large)];
    if (b < Math.max(a, FLOOR_MS) * MOST) return;
    said = `${size} in ${a.toFixed(1)} ms, ${size * TIMES} in ${b.toFixed(1)} ms`;
  }
  expect.fail(said);
}
