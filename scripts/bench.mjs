// Speed against general libraries, in one run: `npm run bench [reading|writing|memory|plan]`.
import { mkdirSync } from 'node:fs';
import { bundle } from './bundle.mjs';
import { install, run } from './setup.mjs';

install();
mkdirSync('.cache', { recursive: true });
await bundle('bench/engine.ts', '.cache/bench.mjs', { packages: 'external' });
process.exit(
  run(process.execPath, [
    '--max-old-space-size=8192',
    '.cache/bench.mjs',
    ...process.argv.slice(2),
  ]),
);
