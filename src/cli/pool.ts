import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';

/** From this many files on it pays to start workers. */
export const MANY_FILES = 16;
/** Results that may wait for an earlier one, a worker: memory stays bounded. */
const AHEAD = 8;
/** What one worker may hold: more ends with a sentence, and not with the machine. */
const MOST_MEGABYTES = 3000;

interface Asked {
  readonly task: string;
  readonly shared: unknown;
}
type Answer = { readonly n: number; readonly result: unknown } | { readonly failed: string };

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
  const size = Math.min(availableParallelism(), items.length);
  const waiting = new Map<number, R>();
  let next = 0;
  let told = 0;
  const workers: Worker[] = [];
  try {
    await new Promise<void>((resolve, reject) => {
      const idle: Worker[] = [];
      const feed = (worker: Worker) => {
        if (next < items.length && next < told + size * AHEAD)
          worker.postMessage({ n: next, item: items[next++] });
        else idle.push(worker);
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
          waiting.set(answer.n, answer.result as R);
          try {
            while (waiting.has(told)) {
              done(waiting.get(told)!, told);
              waiting.delete(told++);
            }
          } catch (error) {
            return reject(error as Error);
          }
          if (told === items.length) return resolve();
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
  port.on('message', async ({ n, item }: { n: number; item: unknown }) => {
    try {
      port.postMessage({ n, result: await one(item as never) });
    } catch (error) {
      port.postMessage({ failed: (error as Error).stack ?? String(error) });
    }
  });
  return true;
}
