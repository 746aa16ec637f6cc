import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { Curve } from '@hexenkessel/core/stages';
import { benchOpened } from './serverSlice.ts';

/** What is shown beside the Cascade. */
export type BenchTab = 'stage' | 'panel' | 'movement' | 'tempo' | 'vary' | 'render' | 'about';

/** What stands over the Bench. */
export type BenchDialog = 'add' | 'save' | 'keys' | 'blind';

/** What of the chain that is open is looked at. */
export interface ViewState {
  readonly selectedStage: string | null;
  /** Branch that a stage is being added to; null: behind the selected stage. */
  readonly addTo: string | null;
  /** Stages whose branches are folded away. */
  readonly folded: readonly string[];
  /** Lanes that are open under their stages, by target. */
  readonly openLanes: readonly string[];
  /** A lane that was copied, its values as places on its scale. */
  readonly copiedLane: Curve | null;
  /** True: the rows of the modulators are shown. */
  readonly movementShown: boolean;
  /** The part of the ruler that is shown of a sound, in seconds; null: all there is. */
  readonly zoom: { readonly soundId: string; readonly start: number; readonly end: number } | null;
  readonly tab: BenchTab;
  /** True: what stands beside the Cascade is open in a narrow window, too. */
  readonly sideOpen: boolean;
  readonly dialog: BenchDialog | null;
}

/** Lanes that are shown when a chain is opened. */
const LANES_OPENED = 3;

const initialState: ViewState = {
  selectedStage: null,
  addTo: null,
  folded: [],
  openLanes: [],
  copiedLane: null,
  movementShown: true,
  zoom: null,
  tab: 'stage',
  sideOpen: false,
  dialog: null,
};

/** The list without an id that it held, or with one that it did not. */
export function switched(ids: readonly string[], id: string): string[] {
  return ids.includes(id) ? ids.filter((other) => other !== id) : [...ids, id];
}

const slice = createSlice({
  name: 'view',
  initialState,
  reducers: {
    stageSelected: (state, { payload }: PayloadAction<string | null>) => ({
      ...state,
      selectedStage: payload,
      tab: 'stage' as const,
      sideOpen: true,
    }),
    zoomSet: (state, { payload }: PayloadAction<ViewState['zoom']>) => ({ ...state, zoom: payload }),
    tabShown: (state, { payload }: PayloadAction<BenchTab>) => ({ ...state, tab: payload, sideOpen: true }),
    sideSet: (state, { payload }: PayloadAction<boolean>) => ({ ...state, sideOpen: payload }),
    dialogSet: (state, { payload }: PayloadAction<BenchDialog | null>) => ({ ...state, dialog: payload }),
    addToSet: (state, { payload }: PayloadAction<string | null>) => ({ ...state, addTo: payload }),
    foldSwitched: (state, { payload }: PayloadAction<string>) => ({
      ...state,
      folded: switched(state.folded, payload),
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
  },
  extraReducers: (builder) =>
    builder.addCase(benchOpened, (_, { payload: { document } }) => ({
      ...initialState,
      selectedStage: document.stages[0]?.id ?? null,
      openLanes: document.lanes.map(({ target }) => target).slice(0, LANES_OPENED),
    })),
});

export const {
  stageSelected,
  zoomSet,
  tabShown,
  sideSet,
  dialogSet,
  addToSet,
  foldSwitched,
  laneOpened,
  laneFolded,
  laneCopied,
  movementSwitched,
} = slice.actions;
export const viewReducer = slice.reducer;
