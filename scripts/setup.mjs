// Installs what is missing, generates and builds: what `demo` and `test` begin with. Plain Node.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { join } from 'node:path';

const root = fileURLToPath(new URL('..', import.meta.url));
process.chdir(root);
const npm = process.platform === 'win32' ? 'npm.cmd' : 'npm';

export function run(command, args, options = {}) {
  const result = spawnSync(command, args, { stdio: 'inherit', ...options });
  if (result.error) throw result.error;
  return result.status ?? 1;
}

/** Whether every package of the lock file is there in its version; npm notes what it installed. */
function installed() {
  const noted = join('node_modules', '.package-lock.json');
  if (!existsSync(noted)) return false;
  const packagesOf = (file) => JSON.parse(readFileSync(file, 'utf8')).packages ?? {};
  const there = packagesOf(noted);
  return Object.entries(packagesOf('package-lock.json')).every(
    ([path, { version, optional }]) =>
      path === '' || optional === true || there[path]?.version === version,
  );
}

/** Installs where node_modules is not there or is of another lock file. */
export function install() {
  if (installed()) return;
  console.log('Installing packages (about a minute)…');
  if (run(npm, ['ci', '--no-audit', '--no-fund', '--loglevel=error']) !== 0) {
    console.error(
      'npm ci failed: see above. Node.js 20.19 or later and the npm registry are needed.',
    );
    process.exit(1);
  }
}

/** What is in a folder, without what the tests hand over there: it is no source. */
const ownOf = (folder) => readdirSync(folder).filter((name) => name !== 'handed-over');

/** When the newest of these files was changed, in milliseconds; folders are walked. */
function newest(paths) {
  let latest = 0;
  for (const path of paths) {
    const stat = statSync(path);
    latest = Math.max(
      latest,
      stat.isDirectory() ? newest(ownOf(path).map((name) => join(path, name))) : stat.mtimeMs,
    );
  }
  return latest;
}

/** Builds what is older than its sources. */
export function build({ force = false } = {}) {
  const done = join('dist', 'built');
  const sources = [
    'src',
    'demo',
    'public/quill.svg',
    'public/manifest.webmanifest',
    'scripts',
    'index.html',
    'vite.config.ts',
    'package-lock.json',
  ];
  // The generator writes into demo/lantern-week, before the mark of the build is set.
  if (!force && existsSync(done) && statSync(done).mtimeMs > newest(sources)) return;
  console.log('Building…');
  const steps = [
    [process.execPath, ['scripts/generate.mjs']],
    [process.execPath, ['node_modules/vite/bin/vite.js', 'build', '--logLevel', 'warn']],
    [process.execPath, ['scripts/notices.mjs']],
    [process.execPath, ['scripts/offline.mjs']],
    [process.execPath, ['scripts/build-node.mjs']],
  ];
  for (const [command, args] of steps) if (run(command, args) !== 0) process.exit(1);
  mkdirSync('dist', { recursive: true });
  writeFileSync(done, '');
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  install();
  build();
}
