import type { ComponentType } from 'react';
import { matchPath } from 'react-router';
import { api } from './api/api.ts';
import { ALL, START_CHAINS, START_SOUNDS } from './api/pages.ts';
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
  /** Ask for lists of the server's that it shows first. */
  readonly lists?: readonly ((dispatch: AppDispatch) => unknown)[];
  /** What belongs to it and has addresses of its own below it. */
  readonly below?: { readonly path: string; readonly shown: Shown };
}

const view = (load: () => Promise<ComponentType>) => laterPart(load, <Opening />);

const { soundPages, chainPages, soundNames } = api.endpoints;
const ahead = { subscribe: false } as const;
const sources = (dispatch: AppDispatch) => dispatch(soundPages.initiate(START_SOUNDS, ahead));
const lastChains = (dispatch: AppDispatch) => dispatch(chainPages.initiate(START_CHAINS, ahead));
const chains = (dispatch: AppDispatch) => dispatch(chainPages.initiate(ALL, ahead));
const allSounds = (dispatch: AppDispatch) => dispatch(soundPages.initiate(ALL, ahead));
const names = (dispatch: AppDispatch) => dispatch(soundNames.initiate(undefined, ahead));

const start = view(async () => (await import('./start/StartView.tsx')).StartView);
const library = view(async () => (await import('./library/LibraryView.tsx')).LibraryView);
const sounds = view(async () => (await import('./sounds/SoundsView.tsx')).SoundsView);
const sound = view(async () => (await import('./sounds/SoundPage.tsx')).SoundPage);
const reference = view(async () => (await import('./reference/ReferenceView.tsx')).ReferenceView);
const script = view(async () => (await import('./scripts/ScriptView.tsx')).ScriptView);
const bench = view(async () => (await import('./bench/BenchView.tsx')).BenchView);
const sheet = view(async () => (await import('./sheet/SheetView.tsx')).SheetView);

/** All views, in the order of the top bar; the bar and the routes come from here. */
export const VIEWS: readonly View[] = [
  { path: '/', title: 'Start', always: true, shown: start, lists: [sources, lastChains] },
  { path: '/library', title: 'Library', always: true, shown: library, lists: [chains, names] },
  {
    path: '/sounds',
    title: 'Sounds',
    always: true,
    shown: sounds,
    lists: [allSounds],
    below: { path: '/sounds/:id', shown: sound },
  },
  {
    path: '/reference',
    title: 'Reference',
    always: true,
    shown: reference,
    below: { path: '/reference/:kind', shown: reference },
  },
  {
    path: '/script',
    title: 'Script',
    always: true,
    shown: script,
    below: { path: '/script/:id', shown: script },
  },
  { path: '/bench/:id', title: 'Bench', always: false, shown: bench, lists: [names] },
  { path: '/sheet/:id', title: 'Sheet', always: false, shown: sheet, lists: [names] },
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
    for (const ask of lists) ask(dispatch);
    await found.fetch().catch(() => undefined); // told where it would be shown
  }
}
