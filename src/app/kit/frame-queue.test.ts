import { expect, it } from 'vitest';
import { FrameQueue } from './frame-queue';

it('works in slices, for each owner once, its newest, and nothing that was dropped', () => {
  let clock = 0;
  const waiting: (() => void)[] = [];
  const painted: string[] = [];
  const queue = new FrameQueue(
    (run) => waiting.push(run),
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
  expect(waiting).toHaveLength(1);
  waiting.shift()!();
  expect(painted).toEqual(['old 0', 'new 1']);
  waiting.shift()!();
  expect(painted).toEqual(['old 0', 'new 1', 'old 2']);
  expect(waiting).toHaveLength(0);
});

it('what is rendered afterwards has a frame of its own', () => {
  const waiting: (() => void)[] = [];
  const done: string[] = [];
  const queue = new FrameQueue(
    (run) => waiting.push(run),
    () => 0,
  );
  const add = (name: string, alone: boolean) => queue.add({}, () => done.push(name), { alone });
  add('row', false);
  add('desk', true);
  add('picture', false);
  add('another', false);
  waiting.shift()!();
  expect(done).toEqual(['row']);
  waiting.shift()!();
  expect(done).toEqual(['row', 'desk']);
  waiting.shift()!();
  expect(done).toEqual(['row', 'desk', 'picture', 'another']);
  expect(waiting).toEqual([]);
});
