// Speed against general libraries, in one run: `npm run bench [reading|writing|memory|plan]`.
import { mkdirSync } from 'node:fs';
import { bundle } from './bundle.mjs';
import { build, install, run } from './setup.mjs';

install();
mkdirSync('.cache', { recursive: true });
const inBrowser = process.argv[2] === 'browser';
if (inBrowser) build();
const named = {
  align: 'bench/align/index.ts',
  browser: 'bench/browser.ts',
  fuzz: 'bench/fuzz.ts',
  modules: 'bench/fuzz-modules.ts',
  'module-songs': 'bench/module-songs.ts',
  deliveries: 'bench/deliveries.ts',
  learning: 'bench/learning.ts',
  linear: 'bench/linear.ts',
  mending: 'bench/mending/run.ts',
  roles: 'bench/roles.ts',
  'sample-roles': 'bench/sample-roles.ts',
  scenes: 'bench/scenes.ts',
  sound: 'bench/sound.ts',
  watch: 'bench/watch.ts',
}[process.argv[2]];
await bundle(named ?? 'bench/engine.ts', '.cache/bench.mjs', {
  packages: 'external',
});
process.exit(
  run(process.execPath, [
    '--max-old-space-size=8192',
    '.cache/bench.mjs',
    ...process.argv.slice(named ? 3 : 2),
  ]),
);
