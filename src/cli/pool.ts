import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import { setSink } from './files';
import { loadSound } from './sounds';
import { proofFiles, type ProofOptions, type Status } from './proofing';

interface Done {
  n: number;
  out: string;
  err: string;
  status: Status;
}

/** From this many files on it pays to start workers. */
export const MANY_FILES = 16;
/** Results that may wait for an earlier one to be printed, a worker: memory stays bounded. */
const AHEAD = 8;

/**
 * Proofs many files on all cores. Each worker holds one file at a time; lines are printed in the
 * order of the files.
 */
export async function proofMany(files: readonly string[], options: ProofOptions): Promise<Status> {
  const size = Math.min(availableParallelism(), files.length);
  const waiting = new Map<number, Done>();
  let next = 0;
  let printed = 0;
  let status: Status = 0;
  await new Promise<void>((resolve, reject) => {
    const idle: Worker[] = [];
    const workers = Array.from(
      { length: size },
      () => new Worker(fileURLToPath(import.meta.url), { workerData: { proof: options } }),
    );
    const feed = (worker: Worker) => {
      if (next < files.length && next < printed + size * AHEAD)
        worker.postMessage({ n: next, file: files[next++] });
      else idle.push(worker);
    };
    const end = () => {
      for (const worker of workers) void worker.terminate();
      resolve();
    };
    for (const worker of workers) {
      worker.on('error', reject);
      worker.on('message', (done: Done) => {
        waiting.set(done.n, done);
        for (let ready = waiting.get(printed); ready; ready = waiting.get(printed)) {
          process.stdout.write(ready.out);
          process.stderr.write(ready.err);
          if (ready.status > status) status = ready.status;
          waiting.delete(printed++);
        }
        if (printed === files.length) return end();
        feed(worker);
        for (const free of idle.splice(0)) feed(free);
      });
      feed(worker);
    }
  });
  return status;
}

/** In a worker: answers one file after the other. True where this is one. */
export function serveAsWorker(): boolean {
  const options = (workerData as { proof?: ProofOptions } | null)?.proof;
  if (isMainThread || !options || !parentPort) return false;
  const port = parentPort;
  const sound = loadSound(options.sound);
  port.on('message', async ({ n, file }: { n: number; file: string }) => {
    let out = '';
    let err = '';
    setSink({ out: (text) => (out += text), err: (text) => (err += text) });
    const status = await proofFiles([file], options, sound);
    port.postMessage({ n, out, err, status } satisfies Done);
  });
  return true;
}
