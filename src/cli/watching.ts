import { fileURLToPath } from 'node:url';
import { join } from 'node:path';
import { serve as serveDesk } from '../server/serve';
import { watchFolder } from '../server/watch-folder';
import { complain, loadRecipe, loadTarget, print, Unusable } from './files';
import { makeOne, writeMade, type MendOptions } from './mending';
import { proofFiles, worse, type Status } from './proofing';
import { loadSound } from './sounds';

export interface WatchOptions extends MendOptions {
  once?: boolean;
}

/** Ends at Ctrl-C, or when whoever started it ends it. */
const untilEnded = () =>
  new Promise<void>((done) => {
    process.once('SIGINT', () => done());
    process.once('SIGTERM', () => done());
  });

/**
 * Proofs every score of a folder, or mends it into another folder, now and whenever it is saved; one
 * line a song at least. `--once` ends behind the first round.
 */
export async function watchAndMend(folder: string, options: WatchOptions): Promise<Status> {
  const { target, recipe, out, once } = options;
  if (target === undefined)
    throw new Unusable('A target is needed: --target with the id of one, or with a target file.');
  loadTarget(target);
  loadRecipe(recipe);
  const sound = loadSound(options.sound);
  await sound;
  let watch;
  try {
    watch = await watchFolder(folder);
  } catch (error) {
    throw new Unusable(`${folder}: cannot be watched (${(error as Error).message}).`);
  }
  let status: Status = 0;
  const one = async (name: string) => {
    const file = join(watch.folder, name);
    if (out === undefined) {
      status = worse(status, await proofFiles([file], options, sound));
      return;
    }
    const to = join(out, name.replace(/\.[^.]+$/, ''));
    const made = await makeOne(file, to, options, sound);
    // What was written for the last save is replaced, and what it had besides goes.
    writeMade({ folder: to, files: made.files }, { force: true });
    status = worse(status, made.status);
  };
  // One after the other, in the order in which they were saved.
  let last = Promise.resolve();
  const next = (name: string) =>
    (last = last
      .then(() => one(name))
      .catch((error: unknown) => complain((error as Error).message)));
  watch.listen({
    saved: (file) => void next(file.name),
    passed: ({ name, says }) => complain(`${name} ${says}`),
  });
  for (const name of [...watch.files.keys()].sort()) void next(name);
  if (!once) {
    // Of what goes out as data each line is an object.
    (options.json ? complain : print)(`Watching ${folder}. Ctrl-C ends it.`);
    await untilEnded();
  }
  await last;
  await watch.close();
  return status;
}

/** The desk in the browser, from the command line. */
export async function serveHere({
  port,
  watch,
}: {
  port?: string;
  watch?: string;
}): Promise<Status> {
  const wanted = port === undefined ? 4173 : Number(port);
  if (!Number.isInteger(wanted) || wanted < 0 || wanted > 65_535)
    throw new Unusable(`--port ${port}: a port is a whole number up to 65535.`);
  const app = join(fileURLToPath(import.meta.url), '..', '..', 'app');
  let serving;
  try {
    serving = await serveDesk(app, { port: wanted, watch });
  } catch (error) {
    throw new Unusable(`The desk cannot be served: ${(error as Error).message}`);
  }
  const token = serving.token === null ? '' : `?watch=${serving.token}`;
  print(`http://127.0.0.1:${serving.port}/${token}`);
  await untilEnded();
  await serving.close();
  return 0;
}
