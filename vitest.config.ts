import { defineConfig } from 'vitest/config';

const node = { environment: 'node', testTimeout: 60_000, hookTimeout: 60_000 } as const;
const project = (name: string) => ({
  resolve: { conditions: ['source'] },
  ssr: { resolve: { conditions: ['source'] } },
  test: {
    name,
    setupFiles: ['packages/core/src/testing/fixedSeed.ts'],
    include: [`packages/${name}/src/**/*.test.ts`],
    ...node,
  },
});

export default defineConfig({ test: { projects: ['core', 'demo', 'server', 'cli', 'web'].map(project) } });
