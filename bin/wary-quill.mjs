#!/usr/bin/env node
import { existsSync } from 'node:fs';

const main = new URL('../dist/cli/main.mjs', import.meta.url);
if (!existsSync(main)) {
  process.stderr.write('The command line is not built yet: run "npm run setup" first.\n');
  process.exit(2);
}
await import(main.href);
