// Writes what is generated: the lantern week, the sound bank, the reference pages of the docs.
import { execFileSync } from 'node:child_process';
import { mkdirSync, cpSync, existsSync } from 'node:fs';
import { bundle } from './bundle.mjs';

mkdirSync('.cache', { recursive: true });
mkdirSync('public/demo', { recursive: true });
await bundle('demo/write.ts', '.cache/demo.mjs', { packages: 'external' });
execFileSync(
  process.execPath,
  ['.cache/demo.mjs', 'demo/lantern-week', 'public/sounds.sf2', 'public/demo'],
  {
    stdio: 'inherit',
  },
);
// What the tests handed over there is not part of the demo.
cpSync('demo/lantern-week', 'public/demo', {
  recursive: true,
  filter: (from) => !from.endsWith('handed-over'),
});
if (existsSync('src/cli/reference.ts')) {
  await bundle('src/cli/reference.ts', '.cache/reference.mjs');
  execFileSync(process.execPath, ['.cache/reference.mjs', 'docs/reference'], { stdio: 'inherit' });
}
