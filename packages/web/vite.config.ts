import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { compression } from 'vite-plugin-compression2';

const isolation = { 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' };

export default defineConfig({
  plugins: [
    react(),
    compression({ algorithms: ['gzip', 'brotliCompress'], include: /\.(js|css|html|svg)$/, threshold: 1000 }),
  ],
  resolve: { conditions: ['@hexenkessel/source', 'module', 'browser', 'development|production'] },
  worker: { format: 'es' },
  build: {
    target: 'es2023',
    chunkSizeWarningLimit: 1500,
    assetsInlineLimit: 0,
    // The interface library puts its whole theme together by these when it is imported; what is used of it is in theme.ts.
    rolldownOptions: {
      treeshake: {
        manualPureFunctions: ['defineConfig', 'mergeConfigs', 'createSystem', 'defineRecipe', 'defineSlotRecipe'],
      },
    },
  },
  server: {
    headers: isolation,
    proxy: {
      '/api': { target: 'http://127.0.0.1:4666', changeOrigin: true, headers: { origin: 'http://127.0.0.1:4666' } },
    },
  },
});
