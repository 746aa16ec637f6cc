import type { Planned } from '@hexenkessel/core/engine';

/** A plan whose scripts have their bytes alone, for an audio thread that no WebAssembly module can be sent to. */
export function withoutModules(plan: readonly Planned[]): readonly Planned[] {
  return plan.map((planned) => ({
    ...planned,
    ...(planned.prepared && {
      prepared: Object.fromEntries(Object.entries(planned.prepared).map(([key, part]) => [key, bare(part)])),
    }),
    branches: planned.branches.map((branch) => ({ ...branch, stages: withoutModules(branch.stages) })),
  }));
}

function bare(part: unknown): unknown {
  const held = typeof part === 'object' && part !== null && 'module' in part;
  return held && part.module instanceof WebAssembly.Module ? { ...part, module: undefined } : part;
}
