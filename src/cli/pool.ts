import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';

/** From this many files on it pays to start workers. */
export const MANY_FILES = 16;
/** Items that go to a worker in one letter, where there are many: letters take their time too. */
const IN_A_LETTER = 16;
const MANY_LETTERS = 400;
/** Letters that may wait for an earlier one, a worker: memory stays bounded. */
const AHEAD = 8;
/** What one worker may hold: more ends with a sentence, and not with the machine. */
const MOST_MEGABYTES = 3000;

interface Asked {
  readonly task: string;
  readonly shared: unknown;
}
type Answer = { readonly n: number; readonly results: unknown[] } | { readonly failed: string };

/** Work of one kind, as a worker does it: made ready once, then asked item by item. */
export type Task = (shared: never) => (item: never) => Promise<unknown>;

/**
 * Does many items on all cores. Each worker holds one item at a time; results come in the order of the
 * items, whatever the number of workers.
 */
export async function inPool<I, R>(
  task: string,
  shared: unknown,
  items: readonly I[],
  done: (result: R, n: number) => void,
): Promise<void> {
  if (items.length === 0) return;
  const each = items.length >= MANY_LETTERS ? IN_A_LETTER : 1;
  const letters = Math.ceil(items.length / each);
  const size = Math.min(availableParallelism(), letters);
  const waiting = new Map<number, R[]>();
  let next = 0;
  let told = 0;
  const workers: Worker[] = [];
  try {
    await new Promise<void>((resolve, reject) => {
      const idle: Worker[] = [];
      const feed = (worker: Worker) => {
        if (next < letters && next < told + size * AHEAD) {
          const from = next * each;
          worker.postMessage({ n: next++, items: items.slice(from, from + each) });
        } else idle.push(worker);
      };
      for (let i = 0; i < size; i++) {
        const worker = new Worker(fileURLToPath(import.meta.url), {
          workerData: { task, shared } satisfies Asked,
          resourceLimits: { maxOldGenerationSizeMb: MOST_MEGABYTES },
        });
        workers.push(worker);
        worker.on('error', reject);
        worker.on('message', (answer: Answer) => {
          if ('failed' in answer) return reject(new Error(answer.failed));
          waiting.set(answer.n, answer.results as R[]);
          try {
            while (waiting.has(told)) {
              for (const [i, r] of waiting.get(told)!.entries()) done(r, told * each + i);
              waiting.delete(told++);
            }
          } catch (error) {
            return reject(error as Error);
          }
          if (told === letters) return resolve();
          feed(worker);
          for (const free of idle.splice(0)) feed(free);
        });
        feed(worker);
      }
    });
  } finally {
    for (const worker of workers) void worker.terminate();
  }
}

/** In a worker: answers one item after the other. True where this is one. */
export function serveAsWorker(tasks: Readonly<Record<string, Task>>): boolean {
  const asked = workerData as Asked | null;
  const task = asked && tasks[asked.task];
  if (isMainThread || !task || !parentPort) return false;
  const port = parentPort;
  const one = task(asked.shared as never);
  port.on('message', async ({ n, items }: { n: number; items: unknown[] }) => {
    try {
      const results: unknown[] = [];
      for (const item of items) results.push(await one(item as never));
      port.postMessage({ n, results });
    } catch (error) {
      port.postMessage({ failed: (error as Error).stack ?? String(error) });
    }
  });
  return true;
}
