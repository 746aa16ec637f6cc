import { lazy, type ComponentType } from 'react';
import { NotLoaded } from './app/notLoaded.ts';

/** One of the places of the application. */
export interface View {
  /** Of its address; `:id` stands for what it is about. */
  readonly path: string;
  readonly title: string;
  /** True: it stands in the top bar from everywhere; the others only while they are open. */
  readonly always: boolean;
  readonly Shown: ComponentType;
  /** What belongs to it and has addresses of its own below it. */
  readonly below?: { readonly path: string; readonly Shown: ComponentType };
}

/** A view whose code is loaded when its address is gone to. */
const viewFrom = (load: () => Promise<ComponentType>): ComponentType =>
  lazy(async () => ({
    default: await load().catch((cause: unknown) => {
      throw new NotLoaded(cause);
    }),
  }));

const Start = viewFrom(async () => (await import('./start/StartView.tsx')).StartView);
const Library = viewFrom(async () => (await import('./library/LibraryView.tsx')).LibraryView);
const Sounds = viewFrom(async () => (await import('./sounds/SoundsView.tsx')).SoundsView);
const OneSound = viewFrom(async () => (await import('./sounds/SoundPage.tsx')).SoundPage);
const Reference = viewFrom(async () => (await import('./reference/ReferenceView.tsx')).ReferenceView);
const Bench = viewFrom(async () => (await import('./bench/BenchView.tsx')).BenchView);
const Sheet = viewFrom(async () => (await import('./sheet/SheetView.tsx')).SheetView);

/** All views, in the order of the top bar; the bar and the routes come from here. */
export const VIEWS: readonly View[] = [
  { path: '/', title: 'Start', always: true, Shown: Start },
  { path: '/library', title: 'Library', always: true, Shown: Library },
  { path: '/sounds', title: 'Sounds', always: true, Shown: Sounds, below: { path: '/sounds/:id', Shown: OneSound } },
  {
    path: '/reference',
    title: 'Reference',
    always: true,
    Shown: Reference,
    below: { path: '/reference/:kind', Shown: Reference },
  },
  { path: '/bench/:id', title: 'Bench', always: false, Shown: Bench },
  { path: '/sheet/:id', title: 'Sheet', always: false, Shown: Sheet },
];
