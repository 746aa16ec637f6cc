import { useHotkeys } from 'react-hotkeys-hook';
import { beatSeconds } from '@hexenkessel/core/model';
import { SLOTS, type SoundName } from '@hexenkessel/core/protocol';
import { useAppDispatch, useAppStore } from '../app/store.ts';
import { listeningSet, loopSet, matchedSet } from '../chain/playbackSlice.ts';
import { redo, undo } from '../chain/chainSlice.ts';
import { goToSlot } from '../chain/slots.ts';
import { shownChain, useShownSound } from '../chain/shownChain.ts';
import { dialogSet, tabShown, type BenchDialog, type BenchTab } from '../chain/viewSlice.ts';
import { usePlayback } from '../playback/usePlayback.ts';
import { alongShelf, shelfOf } from './shelfOf.ts';
import { turnAct } from '../parameters/turnAct.ts';
import { focusWhenThere } from '../parameters/rowSteps.ts';
import { BENCH_KEYS } from './benchKeys.ts';
import { BENCH_TABS } from './benchTabs.ts';

/** The keys of the Bench. `onSound`: another sound of the shelf. */
export function useBenchKeys(sounds: readonly SoundName[], onSound: (id: string) => void): void {
  const playback = usePlayback();
  const sound = useShownSound();
  const dispatch = useAppDispatch();
  const store = useAppStore();
  const heard = () => store.getState().playback;
  const showTab = (tab: BenchTab) => void dispatch(tabShown(tab));
  const show = (dialog: BenchDialog) => () => void dispatch(dialogSet(dialog));
  const stepShelf = (by: 1 | -1) => {
    const next = alongShelf(shelfOf(sounds, store.getState().desk.shelf), sound.id, by);
    if (next) onSound(next.id);
  };
  // A scale that has the focus takes arrows and the keys of its row; these it leaves alone.
  const plain = { enableOnFormTags: ['slider'] as const };
  // In a text field undo belongs to the text; on everything else it belongs to the chain.
  const anywhereButText = { preventDefault: true, enableOnFormTags: ['slider', 'select'] as const };
  useHotkeys(BENCH_KEYS.undo.keys, () => dispatch(undo()), anywhereButText);
  useHotkeys(BENCH_KEYS.redo.keys, () => dispatch(redo()), anywhereButText);
  useHotkeys(BENCH_KEYS.save.keys, show('save'), { preventDefault: true, enableOnFormTags: true });
  useHotkeys(BENCH_KEYS.act.keys, () => dispatch(turnAct()), plain);
  useHotkeys(BENCH_KEYS.toStart.keys, () => playback.playFrom(-Infinity), { preventDefault: true });
  useHotkeys(
    BENCH_KEYS.beats.keys,
    (event) => {
      const here = playback.position;
      const beat = beatSeconds(shownChain(store.getState(), sound).timing);
      if (here !== undefined) playback.playFrom(here + (event.key === 'ArrowLeft' ? -beat : beat));
    },
    { preventDefault: true },
  );
  useHotkeys(BENCH_KEYS.loop.keys, () => dispatch(loopSet(!heard().loop)), plain);
  useHotkeys(BENCH_KEYS.dry.keys, () => dispatch(listeningSet(heard().listening === 'dry' ? 'work' : 'dry')), plain);
  useHotkeys(BENCH_KEYS.equal.keys, () => dispatch(matchedSet(!heard().matched)), plain);
  useHotkeys(BENCH_KEYS.blind.keys, show('blind'), plain);
  useHotkeys(BENCH_KEYS.before.keys, () => stepShelf(-1), plain);
  useHotkeys(BENCH_KEYS.next.keys, () => stepShelf(1), plain);
  useHotkeys(
    BENCH_KEYS.slots.keys,
    (event) => {
      const letter = SLOTS[Number(event.code.replace('Digit', '')) - 1];
      if (!letter) return;
      dispatch(listeningSet('work'));
      dispatch(goToSlot(letter));
    },
    plain,
  );
  useHotkeys(
    BENCH_KEYS.tabs.keys,
    (event) => {
      const tab = BENCH_TABS[Number(event.code.replace('Digit', '')) - 1];
      if (!tab) return;
      showTab(tab.id);
      focusWhenThere(`[role=tab][data-value=${tab.id}]`);
    },
    plain,
  );
  useHotkeys(
    BENCH_KEYS.parameters.keys,
    () => {
      showTab('stage');
      focusWhenThere('[data-rows] [data-row-of]');
    },
    plain,
  );
  useHotkeys(BENCH_KEYS.panel.keys, () => focusWhenThere('[data-testid=panel-strip] [data-control]'), plain);
  // By what it writes: where it lies differs from keyboard to keyboard.
  useHotkeys(BENCH_KEYS.keys.keys, show('keys'), { ...plain, useKey: true });
  useHotkeys(BENCH_KEYS.add.keys, show('add'), { ...plain, preventDefault: true });
  useHotkeys(
    BENCH_KEYS.play.keys,
    () => (playback.state.row !== undefined ? playback.stop() : playback.toggle('result')),
    {
      preventDefault: true,
      ignoreEventWhen: (event) =>
        (event.target as HTMLElement).closest('button, a, select, [role=tab], [role=slider]') !== null,
    },
  );
}
