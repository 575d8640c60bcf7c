import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';

/** What the server sets too, so that the cancel flag can be shared with the worker. */
const isolated = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
};

export default defineConfig({
  plugins: [vue()],
  build: { outDir: 'dist/app', target: 'es2022', chunkSizeWarningLimit: 1500 },
  worker: { format: 'es' },
  server: { host: '127.0.0.1', headers: isolated },
  preview: { host: '127.0.0.1', headers: isolated },
});
