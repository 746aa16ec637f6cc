import type { BenchTab } from '../chain/viewSlice.ts';

/** The tabs beside the Cascade, in their order; tabs, keys and the overview of keys come from here. */
export const BENCH_TABS = [
  { id: 'stage', title: 'Stage' },
  { id: 'panel', title: 'Panel' },
  { id: 'movement', title: 'Modulation' },
  { id: 'tempo', title: 'Tempo' },
  { id: 'vary', title: 'Variations' },
  { id: 'render', title: 'Render' },
  { id: 'about', title: 'About' },
] as const satisfies readonly { readonly id: BenchTab; readonly title: string }[];
