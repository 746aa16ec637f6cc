import type { ComponentType } from 'react';

/** A component that is loaded when its address is gone to. */
type Load = () => Promise<ComponentType>;

/** One of the places of the application. */
export interface View {
  /** Of its address; `:id` stands for what it is about. */
  readonly path: string;
  readonly title: string;
  /** True: it stands in the top bar from everywhere; the others only while they are open. */
  readonly always: boolean;
  readonly load: Load;
  /** What belongs to it and has addresses of its own below it. */
  readonly below?: { readonly path: string; readonly load: Load };
}

const loadStart: Load = async () => (await import('./start/StartView.tsx')).StartView;
const loadLibrary: Load = async () => (await import('./library/LibraryView.tsx')).LibraryView;
const loadSounds: Load = async () => (await import('./sounds/SoundsView.tsx')).SoundsView;
const loadSound: Load = async () => (await import('./sounds/SoundPage.tsx')).SoundPage;
const loadReference: Load = async () => (await import('./reference/ReferenceView.tsx')).ReferenceView;
const loadBench: Load = async () => (await import('./bench/BenchView.tsx')).BenchView;
const loadSheet: Load = async () => (await import('./sheet/SheetView.tsx')).SheetView;

/** All views, in the order of the top bar; the bar and the routes come from here. */
export const VIEWS: readonly View[] = [
  { path: '/', title: 'Start', always: true, load: loadStart },
  { path: '/library', title: 'Library', always: true, load: loadLibrary },
  { path: '/sounds', title: 'Sounds', always: true, load: loadSounds, below: { path: '/sounds/:id', load: loadSound } },
  {
    path: '/reference',
    title: 'Reference',
    always: true,
    load: loadReference,
    below: { path: '/reference/:kind', load: loadReference },
  },
  { path: '/bench/:id', title: 'Bench', always: false, load: loadBench },
  { path: '/sheet/:id', title: 'Sheet', always: false, load: loadSheet },
];
