// Installs what is missing, generates and builds: what `demo` and `test` begin with. Plain Node.
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, readFileSync, statSync, writeFileSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';

const root = new URL('..', import.meta.url).pathname;
process.chdir(root);
const npm = process.platform === 'win32' ? 'npm.cmd' : 'npm';

export function run(command, args, options = {}) {
  const result = spawnSync(command, args, { stdio: 'inherit', ...options });
  if (result.error) throw result.error;
  return result.status ?? 1;
}

/** Installs where node_modules is not there or is of another lock file. */
export function install() {
  const stamp = join('node_modules', '.wary-quill-lock');
  const lock = readFileSync('package-lock.json', 'utf8');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  console.log('Installing packages (about a minute)…');
  if (run(npm, ['ci', '--no-audit', '--no-fund', '--loglevel=error']) !== 0) {
    console.error(
      'npm ci failed: see above. Node.js 20.19 or later and the npm registry are needed.',
    );
    process.exit(1);
  }
  writeFileSync(stamp, lock);
}

const newest = (paths) => {
  const list = execFileSync('find', [...paths, '-type', 'f', '-printf', '%T@\n'], {
    encoding: 'utf8',
  });
  return Math.max(0, ...list.split('\n').filter(Boolean).map(Number));
};

/** Builds what is older than its sources. */
export function build({ force = false } = {}) {
  const done = join('dist', 'built');
  const sources = ['src', 'demo', 'scripts', 'index.html', 'vite.config.ts', 'package-lock.json'];
  if (!force && existsSync(done) && statSync(done).mtimeMs / 1000 > newest(sources)) return;
  console.log('Building…');
  const steps = [
    [process.execPath, ['scripts/generate.mjs']],
    [process.execPath, ['node_modules/vite/bin/vite.js', 'build', '--logLevel', 'warn']],
    [process.execPath, ['scripts/build-node.mjs']],
  ];
  for (const [command, args] of steps) if (run(command, args) !== 0) process.exit(1);
  mkdirSync('dist', { recursive: true });
  writeFileSync(done, '');
}

if (process.argv[1] === new URL(import.meta.url).pathname) {
  install();
  build();
}
