import { resolve } from 'node:path';
import vue from '@vitejs/plugin-vue';
import type { Plugin } from 'vite';
import { defineConfig } from 'vitest/config';

/**
 * In the tests of the application: the engine without its worker, a player without a sound device, a
 * file that is saved nowhere. Put in place where modules are found, so that all files share them.
 */
const STAND_INS = new Map(
  [
    ['src/app/stores/engine.ts', 'testing/engine-without-worker.ts'],
    ['src/app/audio/player.ts', 'testing/stub-player.ts'],
    ['src/app/storage/save-file.ts', 'testing/saved-files.ts'],
  ].map(([real, own]) => [resolve(real!), resolve(own!)]),
);
const standIns: Plugin = {
  name: 'stand-ins',
  enforce: 'pre',
  async resolveId(source, importer) {
    if (!/\/(engine|player|save-file)$/.test(source)) return null;
    const found = await this.resolve(source, importer, { skipSelf: true });
    return STAND_INS.get(found?.id ?? '') ?? null;
  },
};

/**
 * Faults that are put into the sources are not in what was built before: its tests would not see them.
 * Nor is what is timed of use there: all is slower.
 */
const noMutants = process.env['QUILL_MUTANTS'] ? ['src/cli/**', '**/growth.test.ts'] : [];

/** Of one folder of the core alone, where that is asked for. */
const onlyTests = process.env['QUILL_TESTS']
  ? [`${process.env['QUILL_TESTS']}/**/*.test.ts`]
  : null;

export default defineConfig({
  plugins: [vue()],
  test: {
    testTimeout: 30_000,
    setupFiles: ['./testing/seeded.ts'],
    // As many as the least machine has cores; one fewer would be taken where nothing is said.
    maxWorkers: 2,
    environment: 'node',
    // What a test put in the place of something is gone with it.
    clearMocks: true,
    restoreMocks: true,
    unstubGlobals: true,
    // Files of a project share a worker, which reads the modules once.
    isolate: false,
    // One project behind the other: a worker is shared only by files of one project that follow each
    // other.
    projects: [
      {
        extends: true,
        test: {
          name: 'core',
          include: onlyTests ?? [
            'src/core/**/*.test.ts',
            'demo/**/*.test.ts',
            'testing/**/*.test.ts',
            'src/{cli,server}/**/*.test.ts',
          ],
          exclude: ['**/node_modules/**', ...noMutants],
          sequence: { groupOrder: 1 },
        },
      },
      {
        extends: true,
        plugins: [standIns],
        test: {
          name: 'app',
          include: ['src/app/**/*.test.ts', 'src/worker/**/*.test.ts'],
          setupFiles: ['./testing/come-to-rest.ts'],
          environment: 'happy-dom',
          sequence: { groupOrder: 2 },
        },
      },
    ],
  },
});
