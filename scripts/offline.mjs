// Writes the service worker of this build: it keeps the built files of this version, and no data.
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const folder = join('dist', 'app');
const KEPT = /\.(html|js|mjs|css|svg|woff2?|wasm|sf2|webmanifest)$/;

/** Built files by path; the lantern week is fetched where it is asked for. */
function builtFiles(within = '') {
  return readdirSync(join(folder, within), { withFileTypes: true }).flatMap((entry) => {
    const path = within === '' ? entry.name : `${within}/${entry.name}`;
    if (path === 'demo' || path === 'sw.js') return [];
    if (entry.isDirectory()) return builtFiles(path);
    return KEPT.test(entry.name) ? [path] : [];
  });
}

const files = builtFiles().sort();
const hash = createHash('sha256');
for (const path of files) hash.update(path).update(readFileSync(join(folder, path)));
const version = hash.digest('hex').slice(0, 16);
const source = readFileSync(join('scripts', 'service-worker.js'), 'utf8');
const list = JSON.stringify(files.map((path) => `/${path}`));
writeFileSync(
  join(folder, 'sw.js'),
  source.replace("'VERSION'", JSON.stringify(version)).replace('[/* FILES */]', list),
);
