import { useHotkeys } from 'react-hotkeys-hook';
import { beatSeconds } from '@hexenkessel/core/model';
import { SLOTS } from '@hexenkessel/core/protocol';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { listeningSet, loopSet, matchedSet } from '../chain/benchSlice.ts';
import { redo, undo } from '../chain/chainSlice.ts';
import { goToSlot } from '../chain/slots.ts';
import type { Playback } from '../playback/useLive.ts';
import { turnAct } from '../parameters/turnAct.ts';
import { focusWhenThere } from '../parameters/rowSteps.ts';
import { BENCH_KEYS } from './benchKeys.ts';
import { BENCH_TABS, type BenchTab } from './benchTabs.ts';

interface Asked {
  readonly playback: Playback;
  readonly onAdd: () => void;
  readonly onSave: () => void;
  readonly onBlind: () => void;
  /** Another sound of the shelf. */
  readonly onShelf: (by: 1 | -1) => void;
  /** Shows all of them. */
  readonly onKeys: () => void;
  readonly onTab: (tab: BenchTab) => void;
}

/** The keys of the Bench. */
export function useBenchKeys({ playback, onAdd, onSave, onBlind, onShelf, onKeys, onTab }: Asked): void {
  const dispatch = useAppDispatch();
  const { loop, listening, matched } = useAppSelector((state) => state.bench);
  const beat = useAppSelector((state) => beatSeconds(state.chain.present.document.timing));
  // A scale that has the focus takes arrows and the keys of its row; these it leaves alone.
  const plain = { enableOnFormTags: ['slider'] as const };
  // In a text field undo belongs to the text; on everything else it belongs to the chain.
  const anywhereButText = { preventDefault: true, enableOnFormTags: ['slider', 'select'] as const };
  useHotkeys(BENCH_KEYS.undo.keys, () => dispatch(undo()), anywhereButText);
  useHotkeys(BENCH_KEYS.redo.keys, () => dispatch(redo()), anywhereButText);
  useHotkeys(BENCH_KEYS.save.keys, onSave, { preventDefault: true, enableOnFormTags: true });
  useHotkeys(BENCH_KEYS.act.keys, () => dispatch(turnAct()), plain);
  useHotkeys(BENCH_KEYS.toStart.keys, () => playback.playFrom(-Infinity), { preventDefault: true });
  useHotkeys(
    BENCH_KEYS.beats.keys,
    (event) => {
      const here = playback.position();
      if (here !== undefined) playback.playFrom(here + (event.key === 'ArrowLeft' ? -beat : beat));
    },
    { preventDefault: true },
  );
  useHotkeys(BENCH_KEYS.loop.keys, () => dispatch(loopSet(!loop)), plain);
  useHotkeys(BENCH_KEYS.dry.keys, () => dispatch(listeningSet(listening === 'dry' ? 'work' : 'dry')), plain);
  useHotkeys(BENCH_KEYS.equal.keys, () => dispatch(matchedSet(!matched)), plain);
  useHotkeys(BENCH_KEYS.blind.keys, onBlind, plain);
  useHotkeys(BENCH_KEYS.before.keys, () => onShelf(-1), plain);
  useHotkeys(BENCH_KEYS.next.keys, () => onShelf(1), plain);
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
      onTab(tab.id);
      focusWhenThere(`[role=tab][data-value=${tab.id}]`);
    },
    plain,
  );
  useHotkeys(
    BENCH_KEYS.parameters.keys,
    () => {
      onTab('stage');
      focusWhenThere('[data-rows] [data-row-of]');
    },
    plain,
  );
  useHotkeys(BENCH_KEYS.panel.keys, () => focusWhenThere('[data-testid=panel-strip] [data-control]'), plain);
  // By what it writes: where it lies differs from keyboard to keyboard.
  useHotkeys(BENCH_KEYS.keys.keys, onKeys, { ...plain, useKey: true });
  useHotkeys(BENCH_KEYS.add.keys, onAdd, { ...plain, preventDefault: true });
  useHotkeys(BENCH_KEYS.play.keys, () => (playback.playing ? playback.stop() : playback.toggle('result')), {
    preventDefault: true,
    ignoreEventWhen: (event) =>
      (event.target as HTMLElement).closest('button, a, select, [role=tab], [role=slider]') !== null,
  });
}
