import { expect, it } from 'vitest';
import { PaintQueue } from './paint-queue';

it('paints in slices, each row once, the newest state of it, and none that was dropped', () => {
  let clock = 0;
  const frames: (() => void)[] = [];
  const painted: string[] = [];
  const queue = new PaintQueue(
    (run) => frames.push(run),
    () => clock,
  );
  const rows = [{}, {}, {}, {}];
  rows.forEach((row, i) =>
    queue.add(row, () => {
      painted.push(`old ${i}`);
      clock += 6;
    }),
  );
  queue.add(rows[1]!, () => {
    painted.push('new 1');
    clock += 6;
  });
  queue.drop(rows[3]!);
  expect(frames).toHaveLength(1);
  frames.shift()!();
  expect(painted).toEqual(['old 0', 'new 1']);
  frames.shift()!();
  expect(painted).toEqual(['old 0', 'new 1', 'old 2']);
  expect(frames).toHaveLength(0);
});
