import { describe, expect, it } from 'vitest';
import { eventually } from '../../../testing/eventually';
import type { RunningCall } from '../../worker/client';
import { sideBySide, type Side } from './side-by-side';

/** A call that is answered when the test says so. */
function asked<T>() {
  let settle: (value: T | null) => void = () => {};
  const result = new Promise<T | null>((resolve) => (settle = resolve));
  const call: RunningCall<T> = { result, cancel: () => settle(null) };
  return { call, settle };
}

describe('many at once', () => {
  it('each engine takes the next item when it is free, and none is taken twice', async () => {
    const begun: number[] = [];
    const engines = new Set<Side['engine']>();
    const open = new Map<number, () => void>();
    const all = sideBySide([0, 1, 2, 3, 4], async (n, { engine, answer }) => {
      begun.push(n);
      engines.add(engine);
      const { call, settle } = asked<number>();
      open.set(n, () => settle(n));
      expect(await answer(call)).toBe(n);
    });
    expect(begun).toEqual([0, 1, 2]);
    expect(engines.size).toBe(3);
    open.get(1)!();
    await eventually(() => expect(begun).toEqual([0, 1, 2, 3]));
    for (const n of [3, 0, 2]) open.get(n)!();
    await eventually(() => expect(begun).toEqual([0, 1, 2, 3, 4]));
    open.get(4)!();
    await all.done;
  });

  it('given up, what runs is given up with it and nothing more is begun', async () => {
    const answers: (string | null)[] = [];
    const all = sideBySide(['a', 'b', 'c', 'd', 'e'], async (_, { answer }) => {
      answers.push(await answer(asked<string>().call));
    });
    all.cancel();
    await all.done;
    expect(answers).toEqual([null, null, null]);
  });

  it('what is asked after it was given up is not waited for', async () => {
    let goOn = () => {};
    const until = new Promise<void>((done) => (goOn = done));
    let came: string | null = 'nothing yet';
    const all = sideBySide(['a'], async (_, { answer }) => {
      await until;
      came = await answer(asked<string>().call);
    });
    all.cancel();
    goOn();
    await all.done;
    expect(came).toBeNull();
  });
});
