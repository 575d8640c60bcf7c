import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [vue()],
  test: {
    testTimeout: 30_000,
    // As many as the least machine has cores; one fewer would be taken where nothing is said.
    maxWorkers: 2,
    projects: [
      {
        extends: true,
        test: {
          // Pure functions: files may share a worker, which reads the modules once.
          name: 'core',
          include: ['src/core/**/*.test.ts', 'demo/**/*.test.ts'],
          environment: 'node',
          isolate: false,
        },
      },
      {
        extends: true,
        test: {
          name: 'rest',
          include: ['src/**/*.test.ts'],
          exclude: ['src/core/**'],
          environment: 'node',
        },
      },
    ],
  },
});
