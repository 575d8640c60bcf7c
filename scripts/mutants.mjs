// How strong the tests are: small faults are put into the sources one at a time, and the unit tests
// have to notice each. `npm run mutants [FOLDER] [LINES] [SEED] [TESTS]`; no part of `npm test`. With TESTS, a
// folder, its tests alone are run: what others would notice counts as let through.
import { spawnSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { install } from './setup.mjs';

install();
const [folder, lines = '100', seed = '1', tests] = process.argv.slice(2);
const FOLDERS = ['rules', 'steps', 'plan', 'seating', 'outputs', 'handover'].map(
  (name) => `src/core/${name}`,
);
const roots = folder ? [folder] : [...FOLDERS, 'src/app/stores'];

/** The same sample for the same seed (a linear congruence, as in Numerical Recipes). */
let state = Number(seed) >>> 0;
const random = () => (state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0) / 2 ** 32;

const filesIn = (path) =>
  statSync(path).isDirectory()
    ? readdirSync(path)
        .sort()
        .flatMap((name) => filesIn(join(path, name)))
    : /\.ts$/.test(path) && !/\.test\.ts$/.test(path)
      ? [path]
      : [];

/** Lines that decide or count something: texts, types and imports are left alone. */
const decides = (line) =>
  /[<>]=?|===|!==|&&|\|\||[+*/%-]|\?|true|false|Math\./.test(line) &&
  !/^\s*(import|export type|export interface|\/\/|\*|\/\*|readonly|type |interface )/.test(line) &&
  !/=>\s*$|^\s*(title|wrong|then|why|mends|summary):/.test(line);

const all = roots.flatMap((root) =>
  filesIn(root).flatMap((file) =>
    readFileSync(file, 'utf8')
      .split('\n')
      .flatMap((line, i) => (decides(line) ? [`${file}:${i + 1}-${i + 1}`] : [])),
  ),
);
for (let i = all.length - 1; i > 0; i--) {
  const k = Math.floor(random() * (i + 1));
  [all[i], all[k]] = [all[k], all[i]];
}
const mutate = all.slice(0, Number(lines)).sort();
mkdirSync('.cache', { recursive: true });
writeFileSync(
  '.cache/mutants.json',
  JSON.stringify({
    mutate,
    testRunner: 'vitest',
    plugins: ['@stryker-mutator/vitest-runner'],
    coverageAnalysis: 'perTest',
    ignoreStatic: true,
    concurrency: 2,
    timeoutMS: 60_000,
    // A machine of two slow cores needs longer than the five minutes that are given.
    dryRunTimeoutMinutes: 40,
    reporters: ['clear-text', 'json'],
    jsonReporter: { fileName: '.cache/mutants-result.json' },
    clearTextReporter: { allowColor: false, logTests: false, reportTests: false },
    tempDirName: '.cache/mutants',
    ignorePatterns: ['dist', '.cache', 'test-results'],
    mutator: {
      excludedMutations: [
        'StringLiteral',
        'ObjectLiteral',
        'ArrayDeclaration',
        'Regex',
        'BlockStatement',
        'OptionalChaining',
        'MethodExpression',
        'ArrowFunction',
      ],
    },
  }),
);
const bin = join('node_modules', '.bin', 'stryker');
const { status } = spawnSync(bin, ['run', '.cache/mutants.json'], {
  stdio: 'inherit',
  env: { ...process.env, QUILL_MUTANTS: '1', ...(tests ? { QUILL_TESTS: tests } : {}) },
});
process.exit(status ?? 1);
