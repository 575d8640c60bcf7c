import { serveAsWorker } from './pool';
import { runCommandLine } from './program';
import { tasks } from './tasks';

// A reader that has seen enough closes the pipe: that is no failure.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EPIPE') process.exit(process.exitCode ?? 0);
  process.stderr.write(`Standard output cannot be written to (${error.code ?? error.message}).\n`);
  process.exit(2);
});

if (!serveAsWorker(tasks)) {
  const status = await runCommandLine(process.argv.slice(2));
  if (status !== 0) process.exitCode = status;
}
