// All texts on one page, with where they stand and what is doubtful: `npm run texts [word …]`.
import { execFileSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { bundle } from './bundle.mjs';
import { install } from './setup.mjs';

install();
mkdirSync('.cache', { recursive: true });
await bundle('testing/texts/page.ts', '.cache/texts.mjs', { packages: 'external' });
execFileSync(process.execPath, ['.cache/texts.mjs', ...process.argv.slice(2)], {
  stdio: 'inherit',
});
