import { useEffect, useMemo, useState } from 'react';
import type { ChainDocument } from '@hexenkessel/core/chain';
import { SLOTS } from '@hexenkessel/core/protocol';
import { problemOf, useLazyVersionQuery } from '../api/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { tellFailure } from '../app/toaster.tsx';
import { listeningSet } from '../chain/playbackSlice.ts';
import { filledSlots, slotTitle } from '../chain/slots.ts';
import { heardText } from '../playback/heardPart.ts';
import type { BlindPair } from './BlindDialog.tsx';
import { BLIND, DRY, dryOf, type Candidate } from './useCompare.ts';

/** What has to be ready to be heard beside the chain: the dry sound, the version listened to, two unnamed things. */
export function useWanted(document: ChainDocument, blind: BlindPair | undefined): readonly Candidate[] {
  const dispatch = useAppDispatch();
  const listening = useAppSelector((state) => state.playback.listening);
  const chainId = useAppSelector((state) => state.server.chainId);
  const [fetchVersion] = useLazyVersionQuery();
  const [version, setVersion] = useState<Candidate>();
  useEffect(() => {
    if (!listening.startsWith('version-') || chainId === null) return undefined;
    let left = false;
    const number = Number(listening.slice('version-'.length));
    void fetchVersion({ id: chainId, number }, true).then((result) => {
      if (left) return;
      if (result.data) setVersion({ id: listening, title: `version ${number}`, document: result.data });
      else {
        tellFailure(`Version ${number} cannot be heard`, problemOf(result.error).detail);
        dispatch(listeningSet('work'));
      }
    });
    return () => {
      left = true;
    };
  }, [listening, chainId, fetchVersion, dispatch]);

  // What is dry does not change with the chain's settings.
  const dryText = heardText(dryOf(document));
  return useMemo(() => {
    const dry = { id: DRY, title: 'dry', document: JSON.parse(dryText) as ChainDocument };
    return [
      dry,
      ...(version && version.id === listening ? [version] : []),
      ...(blind?.things.map((thing, index) => ({ ...thing, id: blindId(index) })) ?? []),
    ];
  }, [dryText, version, listening, blind?.things]);
}

export const blindId = (thing: number): string => `${BLIND}${thing}`;

/** What can be compared blind: the dry sound and every slot with something in it. */
export function useBlindCandidates(): readonly Candidate[] {
  const work = useAppSelector((state) => state.chain.present);
  return useMemo(() => {
    const slots = filledSlots(work);
    return [
      ...SLOTS.flatMap((letter) => {
        const slot = slots[letter];
        return slot ? [{ id: `slot-${letter}`, title: slotTitle(letter, slot), document: slot.document }] : [];
      }),
      { id: DRY, title: 'dry', document: dryOf(work.document) },
    ];
  }, [work]);
}
