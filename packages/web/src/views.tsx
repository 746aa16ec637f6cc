import type { ComponentType } from 'react';
import { matchPath } from 'react-router';
import { api } from './api/api.ts';
import { Opening } from './app/Opening.tsx';
import type { AppDispatch } from './app/store.ts';
import { laterPart, type LaterPart } from './parts/laterPart.tsx';

/** What is shown at an address; its code comes when the address is gone to. */
type Shown = LaterPart<object>;

/** One of the places of the application. */
export interface View {
  /** Of its address; `:id` stands for what it is about. */
  readonly path: string;
  readonly title: string;
  /** True: it stands in the top bar from everywhere; the others only while they are open. */
  readonly always: boolean;
  readonly shown: Shown;
  /** Lists of the server's that it shows first. */
  readonly lists?: readonly ('sounds' | 'chains')[];
  /** What belongs to it and has addresses of its own below it. */
  readonly below?: { readonly path: string; readonly shown: Shown };
}

const view = (load: () => Promise<ComponentType>) => laterPart(load, <Opening />);

const start = view(async () => (await import('./start/StartView.tsx')).StartView);
const library = view(async () => (await import('./library/LibraryView.tsx')).LibraryView);
const sounds = view(async () => (await import('./sounds/SoundsView.tsx')).SoundsView);
const sound = view(async () => (await import('./sounds/SoundPage.tsx')).SoundPage);
const reference = view(async () => (await import('./reference/ReferenceView.tsx')).ReferenceView);
const bench = view(async () => (await import('./bench/BenchView.tsx')).BenchView);
const sheet = view(async () => (await import('./sheet/SheetView.tsx')).SheetView);

/** All views, in the order of the top bar; the bar and the routes come from here. */
export const VIEWS: readonly View[] = [
  { path: '/', title: 'Start', always: true, shown: start, lists: ['sounds', 'chains'] },
  { path: '/library', title: 'Library', always: true, shown: library, lists: ['chains', 'sounds'] },
  {
    path: '/sounds',
    title: 'Sounds',
    always: true,
    shown: sounds,
    lists: ['sounds'],
    below: { path: '/sounds/:id', shown: sound },
  },
  {
    path: '/reference',
    title: 'Reference',
    always: true,
    shown: reference,
    below: { path: '/reference/:kind', shown: reference },
  },
  { path: '/bench/:id', title: 'Bench', always: false, shown: bench, lists: ['sounds'] },
  { path: '/sheet/:id', title: 'Sheet', always: false, shown: sheet, lists: ['sounds'] },
];

/** Fetches code and lists of the view at an address at once, before anything is drawn; ends when its code is there, or is not coming. */
export async function fetchAhead(pathname: string, dispatch: AppDispatch): Promise<void> {
  for (const { path, shown, lists = [], below } of VIEWS) {
    const found = matchPath(path, pathname)
      ? shown
      : below && matchPath(below.path, pathname)
        ? below.shown
        : undefined;
    if (!found) continue;
    for (const list of lists) dispatch(api.util.prefetch(list, undefined, {}));
    await found.fetch().catch(() => undefined); // told where it would be shown
  }
}
