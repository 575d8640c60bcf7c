import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { serve } from './serve';

const folder = join(dirname(fileURLToPath(import.meta.url)), '..', 'app');

try {
  const { values } = parseArgs({
    args: process.argv.slice(2),
    options: { watch: { type: 'string' } },
  });
  const port = Number(process.env['PORT'] ?? 4173);
  const { port: at, token } = await serve(folder, { port, watch: values.watch });
  const watching = token === null ? '' : `&watch=${token}`;
  const say = (line: string) => process.stdout.write(`${line}\n`);
  say(`Wary Quill with the lantern week: http://127.0.0.1:${at}/?demo=1${watching}`);
  say(`Wary Quill, empty:                http://127.0.0.1:${at}/${watching.replace('&', '?')}`);
  if (token !== null) say(`It watches ${values.watch}, and writes nothing there.`);
} catch (error) {
  process.stderr.write(`The server cannot start: ${(error as Error).message}\n`);
  process.exit(1);
}
