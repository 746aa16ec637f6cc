import type { ReactNode } from 'react';
import { BenchView } from './bench/BenchView.tsx';
import { LibraryView } from './library/LibraryView.tsx';
import { ReferenceView } from './reference/ReferenceView.tsx';
import { SheetView } from './sheet/SheetView.tsx';
import { SoundPage } from './sounds/SoundPage.tsx';
import { SoundsView } from './sounds/SoundsView.tsx';
import { StartView } from './start/StartView.tsx';

/** One of the places of the application. */
export interface View {
  /** Of its address; `:id` stands for what it is about. */
  readonly path: string;
  readonly title: string;
  /** True: it stands in the top bar from everywhere; the others only while they are open. */
  readonly always: boolean;
  readonly element: ReactNode;
  /** What belongs to it and has addresses of its own below it. */
  readonly below?: { readonly path: string; readonly element: ReactNode };
}

/** All views, in the order of the top bar; the bar and the routes come from here. */
export const VIEWS: readonly View[] = [
  { path: '/', title: 'Start', always: true, element: <StartView /> },
  { path: '/library', title: 'Library', always: true, element: <LibraryView /> },
  {
    path: '/sounds',
    title: 'Sounds',
    always: true,
    element: <SoundsView />,
    below: { path: '/sounds/:id', element: <SoundPage /> },
  },
  {
    path: '/reference',
    title: 'Reference',
    always: true,
    element: <ReferenceView />,
    below: { path: '/reference/:kind', element: <ReferenceView /> },
  },
  { path: '/bench/:id', title: 'Bench', always: false, element: <BenchView /> },
  { path: '/sheet/:id', title: 'Sheet', always: false, element: <SheetView /> },
];
