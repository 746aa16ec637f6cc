import { BENCH_TABS } from './benchTabs.ts';

const TAB_NUMBERS = BENCH_TABS.map((_tab, n) => String(n + 1));

/** The keys of the Bench, listened to and shown from one list. */
export const BENCH_KEYS = {
  play: { keys: 'space', shown: 'Space', does: 'play the render, or stop' },
  toStart: { keys: 'home', shown: 'Home', does: 'play from the start of the region or of the sound' },
  beats: { keys: 'shift+left, shift+right', shown: 'Shift+← →', does: 'play from a beat before or after' },
  act: { keys: 'a', shown: 'A', does: 'what the chosen stage does while it plays: stop, freeze, capture' },
  loop: { keys: 'l', shown: 'L', does: 'loop the region' },
  dry: { keys: 'd', shown: 'D', does: 'hear the sound before the chain, and the chain again' },
  equal: { keys: 'e', shown: 'E', does: 'loudness match' },
  blind: { keys: 'b', shown: 'B', does: 'blind A/B test' },
  slots: { keys: 'shift+1, shift+2, shift+3, shift+4', shown: 'Shift+1 … 4', does: 'go to slot A, B, C, D' },
  before: { keys: 'comma', shown: ',', does: 'the sound before on the shelf' },
  next: { keys: 'period', shown: '.', does: 'the next sound on the shelf' },
  paste: { keys: '', shown: 'Ctrl+V', does: 'paste stages that were copied as text' },
  add: { keys: 'n', shown: 'N', does: 'add a stage' },
  tabs: {
    keys: TAB_NUMBERS.join(', '),
    shown: `1 … ${BENCH_TABS.length}`,
    does: `to the tabs: ${BENCH_TABS.map(({ title }) => title.toLowerCase()).join(', ')}`,
  },
  parameters: { keys: 'j', shown: 'J', does: 'to the parameters of the chosen stage' },
  panel: { keys: 'g', shown: 'G', does: 'to the controls of the panel' },
  rows: { keys: 'r', shown: 'R', does: 'open or close the parameter panel, in a narrow window' },
  save: { keys: 'mod+s', shown: 'Ctrl+S', does: 'save a version' },
  undo: { keys: 'mod+z', shown: 'Ctrl+Z', does: 'undo' },
  redo: { keys: 'mod+shift+z, mod+y', shown: 'Ctrl+Shift+Z', does: 'redo' },
  keys: { keys: 'shift+?', shown: '?', does: 'this overview' },
} as const;
