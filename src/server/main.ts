import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { makeApp } from './app';

const folder = join(dirname(fileURLToPath(import.meta.url)), '..', 'app');
const wanted = Number(process.env['PORT'] ?? 4173);

function listen(port: number) {
  const server = makeApp(folder).listen(port, '127.0.0.1', (error?: Error) => {
    if (error) {
      // Another program has this port: take any that is free.
      if ((error as NodeJS.ErrnoException).code === 'EADDRINUSE' && port !== 0) return listen(0);
      process.stderr.write(`The server cannot start: ${error.message}\n`);
      process.exit(1);
    }
    const address = server.address();
    const at = typeof address === 'object' && address ? address.port : port;
    process.stdout.write(`Wary Quill with the lantern week: http://127.0.0.1:${at}/?demo=1\n`);
    process.stdout.write(`Wary Quill, empty:                http://127.0.0.1:${at}/\n`);
  });
}
listen(wanted);
