// The licences of all that goes into the built application, in one file beside it.
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const read = (path) => JSON.parse(readFileSync(path, 'utf8'));
const { dependencies } = read('package.json');

/** Packages of the application and what they need themselves, each once. */
function packages() {
  const found = new Map();
  const take = (name, from) => {
    const own = join(from, 'node_modules', name);
    const path = existsSync(own) ? own : join('node_modules', name);
    if (!existsSync(join(path, 'package.json')) || found.has(path)) return;
    const data = read(join(path, 'package.json'));
    found.set(path, data);
    for (const needed of Object.keys(data.dependencies ?? {})) take(needed, path);
  };
  for (const name of Object.keys(dependencies)) take(name, '.');
  return [...found].sort(([a], [b]) => (a < b ? -1 : 1));
}

const sections = packages().map(([path, { name, version, license }]) => {
  const file = readdirSync(path).find((f) => /^(licen[cs]e|copying|ofl)/i.test(f));
  const text = file ? readFileSync(join(path, file), 'utf8').trim() : '';
  return `${name} ${version}\nLicence: ${license ?? 'see its text'}\n\n${text}`;
});
mkdirSync('dist/app', { recursive: true });
writeFileSync(
  'dist/app/notices.txt',
  `Wary Quill is built with these packages and fonts.\n\n${sections.join(`\n\n${'-'.repeat(72)}\n\n`)}\n`,
);
