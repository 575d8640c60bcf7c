// Everything that is checked, in one command: lint, import rules, types, unit and property tests,
// browser tests. Closes with one line of sums.
import { existsSync, readFileSync, mkdirSync, rmSync } from 'node:fs';
import { spawn } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { delimiter, join } from 'node:path';
import { build, install, run } from './setup.mjs';

const bin = (name) => join('node_modules', '.bin', name);
const only = process.argv[2];
const onPath = (name) =>
  (process.env.PATH ?? '')
    .split(delimiter)
    .map((d) => join(d, name))
    .find((f) => existsSync(f));

// Debian's packages come while npm's do.
const browserComes = chromium();
install();
mkdirSync('.cache', { recursive: true });

let failed = false;
const failures = [];
const wanted = (name) => !only || name.startsWith(only);
const told = (name, status, begun) => {
  const seconds = Math.round((Date.now() - begun) / 1000);
  console.log(`${status === 0 ? 'ok' : 'FAILED'}: ${name} (${seconds} s)`);
  if (status === 0) return;
  failed = true;
  failures.push(name);
};
const check = (name, command, args) => {
  if (!wanted(name)) return;
  const begun = Date.now();
  told(name, run(command, args), begun);
};

/** Checks of one core each, as many at once as there are cores; what each says comes in one piece. */
async function sideBySide(checks) {
  const waiting = checks.filter(([name]) => wanted(name));
  const lane = async () => {
    for (let next = waiting.shift(); next; next = waiting.shift()) {
      const [name, command, args] = next;
      const begun = Date.now();
      const child = spawn(command, args, { stdio: ['ignore', 'pipe', 'pipe'] });
      let says = '';
      for (const stream of [child.stdout, child.stderr]) stream.on('data', (d) => (says += d));
      const status = await new Promise((resolve) => {
        child.on('close', resolve);
        child.on('error', () => resolve(1));
      });
      if (status !== 0) process.stdout.write(says);
      told(name, status, begun);
    }
  };
  await Promise.all(Array.from({ length: Math.max(2, availableParallelism()) }, lane));
}

/** Titles of browser tests that failed once and then passed: each is looked into. */
function unsteady(suites) {
  return suites.flatMap(({ file, specs = [], suites: inner = [] }) => [
    ...specs
      .filter((s) => s.tests.some((t) => t.status === 'flaky'))
      .map((s) => `${file}: ${s.title}`),
    ...unsteady(inner),
  ]);
}

/** Debian's Chromium: as given, as found, or installed where that is permitted. */
async function chromium() {
  const found = () => onPath('chromium') ?? onPath('chromium-browser');
  const there = process.env.CHROMIUM_PATH ?? found();
  if (there || process.getuid?.() !== 0 || !onPath('apt-get')) return there ?? null;
  console.log('Installing chromium…');
  // One process: it goes on by itself while npm keeps this one waiting.
  const both = 'apt-get update; apt-get install -y --no-install-recommends chromium';
  const child = spawn('sh', ['-c', both], { stdio: 'ignore' });
  await new Promise((resolve) => {
    child.on('close', resolve);
    child.on('error', resolve);
  });
  return found() ?? null;
}

await sideBySide([
  ['types', bin('vue-tsc'), []],
  ['build', process.execPath, ['scripts/setup.mjs']],
  ['lint', bin('eslint'), ['.']],
  ['dead exports', bin('knip'), ['--no-progress']],
  ['imports', bin('depcruise'), ['--config', '.dependency-cruiser.cjs', 'src', 'testing', 'demo']],
]);
build();
check('generated files', 'git', [
  'diff',
  '--exit-code',
  '--stat',
  '--',
  'demo/lantern-week',
  'docs/reference',
]);

const sums = { passed: 0, failed: 0, skipped: 0 };
const unitFile = '.cache/unit.json';
const browserFile = '.cache/browser.json';
for (const f of [unitFile, browserFile]) rmSync(f, { force: true });

check('unit', bin('vitest'), [
  'run',
  // What is kept beside the tests is compared here, never written.
  '--update=none',
  '--reporter=default',
  '--reporter=json',
  `--outputFile.json=${unitFile}`,
]);
if (existsSync(unitFile)) {
  const { numPassedTests, numFailedTests, numPendingTests } = JSON.parse(
    readFileSync(unitFile, 'utf8'),
  );
  sums.passed += numPassedTests;
  sums.failed += numFailedTests;
  sums.skipped += numPendingTests;
} else if (!only || only === 'unit') failed = true;

const browser = await browserComes;
if (!browser) {
  console.log('FAILED: no chromium on the PATH or in CHROMIUM_PATH; the browser tests cannot run');
  failed = true;
} else {
  process.env.CHROMIUM_PATH = browser;
  process.env.PLAYWRIGHT_JSON_OUTPUT_NAME = browserFile;
  check('browser', bin('playwright'), ['test', '--reporter=list,json']);
  if (existsSync(browserFile)) {
    const { stats, suites } = JSON.parse(readFileSync(browserFile, 'utf8'));
    const { expected, unexpected, flaky, skipped } = stats;
    for (const title of unsteady(suites)) console.log(`came at the second try only: ${title}`);
    sums.passed += expected + flaky;
    sums.failed += unexpected;
    sums.skipped += skipped;
  } else if (!only || only === 'browser') failed = true;
}
if (failures.length > 0) console.log(`checks that failed: ${failures.join(', ')}`);
console.log(`tests: ${sums.passed} passed, ${sums.failed} failed, ${sums.skipped} skipped`);
process.exit(failed || sums.failed > 0 ? 1 : 0);
