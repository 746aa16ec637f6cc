import { SLOTS, type Slot, type SlotLetter } from '@hexenkessel/core/protocol';
import type { AppDispatch, RootState } from '../app/store.ts';
import { chainChanged, type ChainWork } from './chainSlice.ts';

export type Slots = ChainWork['slots'];

/** All that is put aside, the chain being worked on in its own slot. */
export function filledSlots({ document, slot, slots }: ChainWork): Slots {
  return { ...slots, [slot]: { name: slots[slot]?.name ?? '', document } };
}

/** What a slot goes by. */
export function slotTitle(letter: SlotLetter, slot: Slot | undefined): string {
  return slot?.name ? `${letter} “${slot.name}”` : `slot ${letter}`;
}

/** Changes what stands in the slots, and with it the chain, as one named step. */
function changeSlots(step: string, change: (work: ChainWork) => Pick<ChainWork, 'document' | 'slot' | 'slots'>) {
  return (dispatch: AppDispatch, getState: () => RootState): void => {
    dispatch(chainChanged({ step, ...change(getState().chain.present) }));
  };
}

/** Goes on in another slot; an empty one begins as a copy of this one. */
export function goToSlot(letter: SlotLetter) {
  return changeSlots(`go to slot ${letter}`, (work) => {
    const slots = filledSlots(work);
    const next = slots[letter] ?? { name: '', document: work.document };
    return { document: next.document, slot: letter, slots: { ...slots, [letter]: next } };
  });
}

/** Copies the settings being worked on into another slot and stays here. */
export function copyToSlot(letter: SlotLetter) {
  return changeSlots(`copy to slot ${letter}`, (work) => {
    const slots = filledSlots(work);
    const name = slots[letter]?.name ?? '';
    return {
      document: work.document,
      slot: work.slot,
      slots: { ...slots, [letter]: { name, document: work.document } },
    };
  });
}

export function nameSlot(name: string) {
  return changeSlots('name of the slot', (work) => ({
    document: work.document,
    slot: work.slot,
    slots: { ...work.slots, [work.slot]: { name, document: work.document } },
  }));
}

/** Empties every slot but the one being worked on. */
export function emptyOtherSlots() {
  return changeSlots('clear the other slots', ({ document, slot, slots }) => ({
    document,
    slot,
    slots: slots[slot] ? { [slot]: slots[slot] } : {},
  }));
}

export const otherSlots = (slot: SlotLetter): SlotLetter[] => SLOTS.filter((letter) => letter !== slot);
