import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { ChainDocument } from '@hexenkessel/core/chain';
import type { AppDispatch, RootState } from '../app/store.ts';
import { benchOpened } from './serverSlice.ts';
import { switched } from './viewSlice.ts';

/** A stretch of the ruler in seconds from the source's first frame. */
export interface Region {
  readonly start: number;
  readonly end: number;
}

/** What is marked of a sound, and whether it is what gets rendered; how a region is put back stands in the chain. */
export interface Marked {
  readonly region: Region | null;
  /** True: all of the sound is rendered, the region is only played. */
  readonly whole: boolean;
}

export const UNMARKED: Marked = { region: null, whole: true };

/** A chain that is tried out in place of the one being worked on. */
export interface Audition {
  readonly title: string;
  readonly document: ChainDocument;
}

/** The chain being worked on, the sound before it, or a kept version. */
export type Listening = 'work' | 'dry' | `version-${number}`;

/** What is heard. */
export interface PlaybackState {
  /** What is marked, by chain and sound: see `markedOn`. */
  readonly marked: Readonly<Record<string, Marked>>;
  readonly loop: boolean;
  /** Whether a whole sound goes round with the tail of its render, or in its own length. */
  readonly loopTail: boolean;
  /** Branches that are heard alone. */
  readonly solos: readonly string[];
  /** A variation that is heard and shown in place of the chain, and what it is. */
  readonly audition: Audition | null;
  /** What is heard instead of the chain being worked on. */
  readonly listening: Listening;
  /** Whether all that is compared is made equally loud. */
  readonly matched: boolean;
}

const initialState: PlaybackState = {
  marked: {},
  loop: false,
  loopTail: false,
  solos: [],
  audition: null,
  listening: 'work',
  matched: false,
};

const slice = createSlice({
  name: 'playback',
  initialState,
  reducers: {
    markedSet: (state, { payload }: PayloadAction<{ key: string; marked: Marked }>) => ({
      ...state,
      marked: { ...state.marked, [payload.key]: payload.marked },
    }),
    loopSet: (state, { payload }: PayloadAction<boolean>) => ({ ...state, loop: payload }),
    loopTailSet: (state, { payload }: PayloadAction<boolean>) => ({ ...state, loopTail: payload }),
    soloSwitched: (state, { payload }: PayloadAction<string>) => ({
      ...state,
      solos: switched(state.solos, payload),
    }),
    auditioned: (state, { payload }: PayloadAction<Audition | null>) => ({ ...state, audition: payload }),
    listeningSet: (state, { payload }: PayloadAction<Listening>) => ({ ...state, listening: payload }),
    matchedSet: (state, { payload }: PayloadAction<boolean>) => ({ ...state, matched: payload }),
  },
  extraReducers: (builder) =>
    builder.addCase(benchOpened, ({ marked, loop, loopTail, matched }) => ({
      ...initialState,
      marked,
      loop,
      loopTail,
      matched,
    })),
});

export const { loopSet, loopTailSet, soloSwitched, auditioned, listeningSet, matchedSet } = slice.actions;
export const playbackReducer = slice.reducer;

const markedKey = (chainId: string | null, soundId: string) => `${chainId ?? ''} ${soundId}`;

/** What is marked of a sound under the chain that is open. */
export function markedOn({ server, playback }: Pick<RootState, 'server' | 'playback'>, soundId: string): Marked {
  return playback.marked[markedKey(server.chainId, soundId)] ?? UNMARKED;
}

/** Marks something of a sound under the chain that is open. */
export function mark(soundId: string, part: Partial<Marked>) {
  return (dispatch: AppDispatch, getState: () => RootState): void => {
    const state = getState();
    const key = markedKey(state.server.chainId, soundId);
    dispatch(slice.actions.markedSet({ key, marked: { ...markedOn(state, soundId), ...part } }));
  };
}
