import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { Curve } from '@hexenkessel/core/stages';
import type { ChainDocument } from '@hexenkessel/core/chain';
import type { ChainState } from '@hexenkessel/core/protocol';

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

export interface BenchState {
  readonly chainId: string | null;
  /** Revision on the server that the work here is based on. */
  readonly revision: number;
  readonly versions: ChainState['versions'];
  /** The document as the server last confirmed it, as text. */
  readonly savedText: string;
  /** True when what the server holds is no kept version. */
  readonly draft: boolean;
  readonly saving: 'idle' | 'saving' | 'failed';
  /** True from a save that failed until one that did not. */
  readonly failedBefore: boolean;
  /** What another window has made of this chain meanwhile. */
  readonly conflict: ChainState | null;
  readonly selectedStage: string | null;
  /** What is marked, by chain and sound: see `markedOn`. */
  readonly marked: Readonly<Record<string, Marked>>;
  readonly loop: boolean;
  /** Whether a whole sound goes round with the tail of its render, or in its own length. */
  readonly loopTail: boolean;
  /** Branch that a stage is being added to; null: behind the selected stage. */
  readonly addTo: string | null;
  /** Stages whose branches are folded away. */
  readonly folded: readonly string[];
  /** Sounds at hand, in order; empty: all there are. */
  readonly shelf: readonly string[];
  /** Branches that are heard alone. */
  readonly solos: readonly string[];
  /** Lanes that are open under their stages, by target. */
  readonly openLanes: readonly string[];
  /** A lane that was copied, its values as places on its scale. */
  readonly copiedLane: Curve | null;
  /** True: the rows of the modulators are shown. */
  readonly movementShown: boolean;
  /** A variation that is heard and shown in place of the chain, and what it is. */
  readonly audition: Audition | null;
  /** What is heard instead of the chain being worked on. */
  readonly listening: Listening;
  /** Whether all that is compared is made equally loud. */
  readonly matched: boolean;
}

/** A chain that is tried out in place of the one being worked on. */
export interface Audition {
  readonly title: string;
  readonly document: ChainDocument;
}

/** The chain being worked on, the sound before it, or a kept version. */
export type Listening = 'work' | 'dry' | `version-${number}`;

/** Lanes that are shown when a chain is opened. */
const LANES_OPENED = 3;

const initialState: BenchState = {
  chainId: null,
  revision: 0,
  versions: [],
  savedText: '',
  draft: false,
  saving: 'idle',
  failedBefore: false,
  conflict: null,
  selectedStage: null,
  marked: {},
  loop: false,
  loopTail: false,
  addTo: null,
  folded: [],
  shelf: [],
  solos: [],
  openLanes: [],
  copiedLane: null,
  movementShown: true,
  audition: null,
  listening: 'work',
  matched: false,
};

const markedKey = (chainId: string | null, soundId: string) => `${chainId ?? ''} ${soundId}`;

/** What is marked of a sound under the chain that is open. */
export function markedOn({ chainId, marked }: Pick<BenchState, 'chainId' | 'marked'>, soundId: string): Marked {
  return marked[markedKey(chainId, soundId)] ?? UNMARKED;
}

/** The list without an id that it held, or with one that it did not. */
function switched(ids: readonly string[], id: string): string[] {
  return ids.includes(id) ? ids.filter((other) => other !== id) : [...ids, id];
}

const slice = createSlice({
  name: 'bench',
  initialState,
  reducers: {
    benchOpened: (state, { payload }: PayloadAction<ChainState>) => ({
      ...initialState,
      marked: state.marked,
      loop: state.loop,
      loopTail: state.loopTail,
      matched: state.matched,
      shelf: payload.id === state.chainId ? state.shelf : [],
      chainId: payload.id,
      revision: payload.revision,
      versions: payload.versions,
      savedText: JSON.stringify(payload.document),
      draft: payload.unsaved,
      selectedStage: payload.document.stages[0]?.id ?? null,
      openLanes: payload.document.lanes.map(({ target }) => target).slice(0, LANES_OPENED),
    }),
    saveBegan: (state) => ({ ...state, saving: 'saving' as const }),
    saveFailed: (state) => ({ ...state, saving: 'failed' as const, failedBefore: true }),
    saved: (state, { payload }: PayloadAction<ChainState>) => ({
      ...state,
      saving: 'idle' as const,
      failedBefore: false,
      revision: payload.revision,
      versions: payload.versions,
      savedText: JSON.stringify(payload.document),
      draft: payload.unsaved,
    }),
    conflictFound: (state, { payload }: PayloadAction<ChainState>) => ({
      ...state,
      saving: 'idle' as const,
      conflict: payload,
    }),
    /** Goes on from the other window's revision, with the work here on top. */
    conflictSettled: (state, { payload }: PayloadAction<{ revision: number } | null>) => ({
      ...state,
      conflict: null,
      revision: payload?.revision ?? state.revision,
      // What the server holds now is not what is here, even where that is what it had confirmed before.
      savedText: payload ? '' : state.savedText,
    }),
    stageSelected: (state, { payload }: PayloadAction<string | null>) => ({ ...state, selectedStage: payload }),
    /** Of a sound under the chain that is open. */
    markedSet: (state, { payload: { soundId, ...part } }: PayloadAction<Partial<Marked> & { soundId: string }>) => ({
      ...state,
      marked: { ...state.marked, [markedKey(state.chainId, soundId)]: { ...markedOn(state, soundId), ...part } },
    }),
    loopSet: (state, { payload }: PayloadAction<boolean>) => ({ ...state, loop: payload }),
    loopTailSet: (state, { payload }: PayloadAction<boolean>) => ({ ...state, loopTail: payload }),
    addToSet: (state, { payload }: PayloadAction<string | null>) => ({ ...state, addTo: payload }),
    foldSwitched: (state, { payload }: PayloadAction<string>) => ({
      ...state,
      folded: switched(state.folded, payload),
    }),
    shelfSet: (state, { payload }: PayloadAction<readonly string[]>) => ({ ...state, shelf: payload }),
    soloSwitched: (state, { payload }: PayloadAction<string>) => ({
      ...state,
      solos: switched(state.solos, payload),
    }),
    laneOpened: (state, { payload }: PayloadAction<string>) => ({
      ...state,
      openLanes: state.openLanes.includes(payload) ? state.openLanes : [...state.openLanes, payload],
    }),
    laneFolded: (state, { payload }: PayloadAction<string>) => ({
      ...state,
      openLanes: state.openLanes.filter((target) => target !== payload),
    }),
    laneCopied: (state, { payload }: PayloadAction<Curve>) => ({ ...state, copiedLane: payload }),
    movementSwitched: (state) => ({ ...state, movementShown: !state.movementShown }),
    auditioned: (state, { payload }: PayloadAction<Audition | null>) => ({ ...state, audition: payload }),
    listeningSet: (state, { payload }: PayloadAction<Listening>) => ({ ...state, listening: payload }),
    matchedSet: (state, { payload }: PayloadAction<boolean>) => ({ ...state, matched: payload }),
  },
});

export const {
  benchOpened,
  saveBegan,
  saveFailed,
  saved,
  conflictFound,
  conflictSettled,
  stageSelected,
  markedSet,
  loopSet,
  loopTailSet,
  addToSet,
  foldSwitched,
  shelfSet,
  soloSwitched,
  laneOpened,
  laneFolded,
  laneCopied,
  movementSwitched,
  auditioned,
  listeningSet,
  matchedSet,
} = slice.actions;
export const benchReducer = slice.reducer;
