import { useHotkeys } from 'react-hotkeys-hook';
import { SLOTS } from '@hexenkessel/core';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { listeningSet, loopSet, matchedSet } from '../chain/benchSlice.ts';
import { redo, undo } from '../chain/chainSlice.ts';
import { goToSlot } from '../chain/slots.ts';
import type { Playback } from '../playback/useLive.ts';

interface Asked {
  readonly playback: Playback;
  readonly onAdd: () => void;
  readonly onSave: () => void;
  readonly onBlind: () => void;
  /** Another sound of the shelf. */
  readonly onShelf: (by: 1 | -1) => void;
}

/** The keys of the Bench. */
export function useBenchKeys({ playback, onAdd, onSave, onBlind, onShelf }: Asked): void {
  const dispatch = useAppDispatch();
  const { loop, listening, matched } = useAppSelector((state) => state.bench);
  // In a text field undo belongs to the text; on everything else it belongs to the chain.
  const anywhereButText = { preventDefault: true, enableOnFormTags: ['slider', 'select'] as const };
  useHotkeys('mod+z', () => dispatch(undo()), anywhereButText);
  useHotkeys('mod+shift+z, mod+y', () => dispatch(redo()), anywhereButText);
  useHotkeys('mod+s', onSave, { preventDefault: true, enableOnFormTags: true });
  useHotkeys('l', () => dispatch(loopSet(!loop)));
  useHotkeys('d', () => dispatch(listeningSet(listening === 'dry' ? 'work' : 'dry')));
  useHotkeys('e', () => dispatch(matchedSet(!matched)));
  useHotkeys('b', onBlind);
  useHotkeys('comma', () => onShelf(-1));
  useHotkeys('period', () => onShelf(1));
  useHotkeys('shift+1, shift+2, shift+3, shift+4', (event) => {
    const letter = SLOTS[Number(event.code.replace('Digit', '')) - 1];
    if (!letter) return;
    dispatch(listeningSet('work'));
    dispatch(goToSlot(letter));
  });
  useHotkeys('n', onAdd, { preventDefault: true });
  useHotkeys('space', () => (playback.playing ? playback.stop() : playback.toggle('result')), {
    preventDefault: true,
    ignoreEventWhen: (event) =>
      (event.target as HTMLElement).closest('button, a, select, [role=tab], [role=slider]') !== null,
  });
}
