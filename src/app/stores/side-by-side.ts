import type { EngineClient, RunningCall } from '../../worker/client';
import { sideEngines } from './engine';

/** What one of many is given to be worked on with. */
export interface Side {
  readonly engine: EngineClient;
  /** Waits for a call, so that it is given up with the whole; null where it was. */
  answer<A>(call: RunningCall<A>): Promise<A | null>;
}

/**
 * Works through items on every side engine: each takes the next item when it is free, so they begin
 * in order and may end in another.
 * @returns `done`, when the last has ended or all were given up, and `cancel`
 */
export function sideBySide<T>(
  items: readonly T[],
  work: (item: T, side: Side) => Promise<void>,
): { readonly done: Promise<void>; cancel(): void } {
  const running = new Set<RunningCall<unknown>>();
  let [at, givenUp] = [0, false];
  const through = async (engine: EngineClient): Promise<void> => {
    const side: Side = {
      engine,
      answer: async (call) => {
        if (givenUp) call.cancel();
        running.add(call);
        try {
          return await call.result;
        } finally {
          running.delete(call);
        }
      },
    };
    while (!givenUp && at < items.length) await work(items[at++]!, side);
  };
  return {
    done: Promise.all(sideEngines(items.length).map(through)).then(() => {}),
    cancel: () => {
      givenUp = true;
      for (const call of running) call.cancel();
    },
  };
}
