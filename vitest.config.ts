import { defineConfig } from 'vitest/config';

const node = { environment: 'node', testTimeout: 60_000, hookTimeout: 60_000 } as const;
const project = (name: string) => ({
  resolve: { conditions: ['@hexenkessel/source'] },
  ssr: { resolve: { conditions: ['@hexenkessel/source'] } },
  test: {
    name,
    setupFiles: ['packages/core/src/testing/fixedSeed.ts'],
    ...(name === 'server' ? { globalSetup: ['packages/server/src/testing/buildWorkers.ts'] } : {}),
    include: [`packages/${name}/src/**/*.test.ts`],
    ...node,
  },
});

// All cores: vitest leaves one idle, which on two cores doubles the run.
export default defineConfig({
  test: { maxWorkers: '100%', projects: ['core', 'demo', 'server', 'cli', 'web'].map(project) },
});
