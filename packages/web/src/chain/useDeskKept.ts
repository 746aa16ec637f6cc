import { useEffect, useRef } from 'react';
import type { Desk } from '@hexenkessel/core/protocol';
import { api, problemOf } from '../api/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { tellFailure } from '../app/toaster.tsx';

const DELAY = 600; // milliseconds of rest before it is kept

const EMPTY: Desk = { shelf: [], slot: 'A', slots: {} };

/**
 * Keeps the shelf and the slots on the server as they change. What is put there before the server has the chain
 * (`waits`) is kept as soon as it has.
 */
export function useDeskKept(chainId: string, opened: boolean, waits: boolean): void {
  const dispatch = useAppDispatch();
  const slot = useAppSelector((state) => state.chain.present.slot);
  const slots = useAppSelector((state) => state.chain.present.slots);
  const shelf = useAppSelector((state) => state.desk.shelf);
  const kept = useRef<{ chainId: string; desk: Desk }>(undefined);
  useEffect(() => {
    const desk: Desk = { shelf, slot, slots };
    if (!opened) {
      kept.current = undefined;
      return undefined;
    }
    if (kept.current?.chainId !== chainId) kept.current = { chainId, desk: waits ? EMPTY : desk };
    if (waits) return undefined;
    const before = kept.current.desk;
    if (JSON.stringify(before) === JSON.stringify(desk)) return undefined;
    const keep = async () => {
      kept.current = { chainId, desk };
      const result = await dispatch(api.endpoints.keepDesk.initiate({ id: chainId, part: desk }));
      if ('error' in result) {
        kept.current = { chainId, desk: before };
        tellFailure('Shelf and slots are not saved', problemOf(result.error).detail);
      }
    };
    const timer = setTimeout(() => void keep(), DELAY);
    return () => clearTimeout(timer);
  }, [chainId, opened, waits, shelf, slot, slots, dispatch]);
}
