import { webcrypto } from 'node:crypto';
import { makeEngine } from '../src/worker/engine';

Object.defineProperty(globalThis, 'crypto', { value: webcrypto });

const realEngine = makeEngine();

type Asking = Record<
  string,
  (
    call: { id: number },
    request: unknown,
    progress: () => void,
  ) => Promise<{ is: string; value: unknown }>
>;

let calls = 0;
/** The real engine without a worker: what crosses is cloned, so that nothing watched gets through. */
const call = (name: string, request: unknown) => {
  let giveUp: (value: null) => void = () => {};
  const givenUp = new Promise<null>((resolve) => (giveUp = resolve));
  const answer = (async () => {
    const ask = (realEngine as never as Asking)[name]!;
    const reply = await ask({ id: ++calls }, structuredClone(request), () => {});
    return reply.is === 'done' ? reply.value : null;
  })();
  // As the client has it: given up, a call has no answer whatever still goes on.
  return { result: Promise.race([answer, givenUp]), cancel: () => giveUp(null) };
};

/** Calls that answer at once; across the thread each is a promise. */
const plain = {
  ...Object.fromEntries(
    Object.entries(realEngine).map(([name, does]) => [
      name,
      async (...given: unknown[]) => (does as (...all: unknown[]) => unknown)(...given),
    ]),
  ),
  forget: () => Promise.resolve(),
};

const client = () => ({
  open: (request: unknown) => call('open', request),
  ask: (name: string, request: unknown) => call(name, request),
  plain,
});
/** What the application's engine module gives; all of them compute at once here. */
export { client as engine, client as sideEngine, client as soundEngine };
/** Three, as on a machine of four cores. */
export const sideEngines = (songs: number) =>
  Array.from({ length: Math.max(1, Math.min(3, songs)) }, client);
/** What was let go of, by its hash; a test may look. */
export const forgotten: string[] = [];
export const forgetSource = (sha256: string): void => void forgotten.push(sha256);
