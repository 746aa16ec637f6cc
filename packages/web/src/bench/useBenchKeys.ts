import { flushSync } from 'react-dom';
import { useHotkeys } from 'react-hotkeys-hook';
import { SLOTS } from '@hexenkessel/core/protocol';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { listeningSet, loopSet, matchedSet } from '../chain/benchSlice.ts';
import { redo, undo } from '../chain/chainSlice.ts';
import { goToSlot } from '../chain/slots.ts';
import type { Playback } from '../playback/useLive.ts';
import { focusIn } from '../parameters/rowSteps.ts';
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
  // In a text field undo belongs to the text; on everything else it belongs to the chain.
  const anywhereButText = { preventDefault: true, enableOnFormTags: ['slider', 'select'] as const };
  useHotkeys(BENCH_KEYS.undo.keys, () => dispatch(undo()), anywhereButText);
  useHotkeys(BENCH_KEYS.redo.keys, () => dispatch(redo()), anywhereButText);
  useHotkeys(BENCH_KEYS.save.keys, onSave, { preventDefault: true, enableOnFormTags: true });
  useHotkeys(BENCH_KEYS.loop.keys, () => dispatch(loopSet(!loop)));
  useHotkeys(BENCH_KEYS.dry.keys, () => dispatch(listeningSet(listening === 'dry' ? 'work' : 'dry')));
  useHotkeys(BENCH_KEYS.equal.keys, () => dispatch(matchedSet(!matched)));
  useHotkeys(BENCH_KEYS.blind.keys, onBlind);
  useHotkeys(BENCH_KEYS.before.keys, () => onShelf(-1));
  useHotkeys(BENCH_KEYS.next.keys, () => onShelf(1));
  useHotkeys(BENCH_KEYS.slots.keys, (event) => {
    const letter = SLOTS[Number(event.code.replace('Digit', '')) - 1];
    if (!letter) return;
    dispatch(listeningSet('work'));
    dispatch(goToSlot(letter));
  });
  useHotkeys(BENCH_KEYS.tabs.keys, (event) => {
    const tab = BENCH_TABS[Number(event.code.replace('Digit', '')) - 1];
    if (!tab) return;
    flushSync(() => onTab(tab.id));
    focusIn(document.querySelector(`[role=tab][data-value=${tab.id}]`));
  });
  useHotkeys(BENCH_KEYS.parameters.keys, () => {
    flushSync(() => onTab('stage'));
    focusIn(document.querySelector('[data-rows] [data-row-of]'));
  });
  useHotkeys(BENCH_KEYS.panel.keys, () => focusIn(document.querySelector('[data-testid=panel-strip] [data-control]')));
  // By what it writes: where it lies differs from keyboard to keyboard.
  useHotkeys(BENCH_KEYS.keys.keys, onKeys, { useKey: true });
  useHotkeys(BENCH_KEYS.add.keys, onAdd, { preventDefault: true });
  useHotkeys(BENCH_KEYS.play.keys, () => (playback.playing ? playback.stop() : playback.toggle('result')), {
    preventDefault: true,
    ignoreEventWhen: (event) =>
      (event.target as HTMLElement).closest('button, a, select, [role=tab], [role=slider]') !== null,
  });
}
