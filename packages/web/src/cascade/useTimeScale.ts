import { useLayoutEffect, useMemo, useState, type RefObject } from 'react';
import { shallowEqual } from 'react-redux';
import type { StageDocument } from '@hexenkessel/core/chain';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import type { Region } from '../chain/playbackSlice.ts';
import { useShown, useShownSound } from '../chain/shownChain.ts';
import { zoomSet } from '../chain/viewSlice.ts';
import { LABEL_WIDTH } from './CascadeRow.tsx';
import type { CascadeState } from './chainRenderer.ts';
import type { RowKey } from './renderReport.ts';
import type { TimeScale } from './timeScale.ts';
import { useRendered } from './useRenderer.ts';
import { around, inside, panned, zoomed } from './zoom.ts';

/** Pixels that the rows' pictures have, and the height of all there is. */
export function useRowArea(area: RefObject<HTMLElement | null>): { readonly width: number; readonly height: number } {
  const [size, setSize] = useState({ width: 600, height: 500 });
  // Before the first drawing, so that nothing is drawn twice at another size.
  useLayoutEffect(() => {
    const { current } = area;
    if (!current) return undefined;
    const take = (width: number, height: number) =>
      setSize({ width: Math.max(50, Math.floor(width) - LABEL_WIDTH), height });
    take(current.clientWidth, current.clientHeight);
    const observer = new ResizeObserver(([{ contentRect }]) => take(contentRect.width, contentRect.height));
    observer.observe(current);
    return () => observer.disconnect();
  }, [area]);
  return size;
}

const MARGIN = 0.02;

/** All there is to be shown: every row that belongs to the chain as it is, with a little room on both sides; seconds. */
export function useExtent(): Region {
  const on = useShown(({ stages }) => stages.filter((stage) => stage.on).map(({ id }) => id), shallowEqual);
  const { start, end } = useRendered((state) => extentOf(state, on), shallowEqual);
  return useMemo(() => {
    const room = MARGIN * (end - start);
    return { start: start - room, end: end + room };
  }, [start, end]);
}

/** The ruler: all there is, or the part that is zoomed to. */
export function useTimeScale(width: number): TimeScale {
  const all = useExtent();
  const part = useZoomed();
  return useMemo(() => ({ ...((part && inside(part, all)) ?? all), width }), [all, part, width]);
}

/** The part of this sound that is zoomed to; null: all of it. */
function useZoomed(): Region | null {
  const sound = useShownSound();
  return useAppSelector(({ view: { zoom } }) => (zoom?.soundId === sound.id ? zoom : null));
}

export interface Zoom {
  readonly zoomed: boolean;
  /** `factor` times as much is shown, around a place in seconds, or around the middle. */
  readonly zoomBy: (factor: number, at?: number) => void;
  /** Shows what lies so many widths behind. */
  readonly panBy: (by: number) => void;
  /** Shows a part, or all there is. */
  readonly show: (part: Region | null) => void;
}

/** Changing what is shown. Reads the ruler when something happens, so that nothing is rendered for it. */
export function useZoom(): Zoom {
  const dispatch = useAppDispatch();
  const sound = useShownSound();
  const all = useExtent();
  const part = useZoomed();
  const shown = (part && inside(part, all)) ?? all;
  const set = (next: Region | null) =>
    void dispatch(zoomSet(next && { soundId: sound.id, start: next.start, end: next.end }));
  return {
    zoomed: shown !== all,
    zoomBy: (factor, at = (shown.start + shown.end) / 2) => set(zoomed(shown, all, factor, at)),
    panBy: (by) => set(panned(shown, all, by)),
    show: (next) => set(next && around(next, all)),
  };
}

/** From the first to the last frame of anything that is shown, in seconds. */
function extentOf({ rows, sampleRate, sourceFrames }: CascadeState, on: readonly StageDocument['id'][]) {
  const keys: RowKey[] = ['source', 'result', ...on.map((id): RowKey => `stage:${id}`)];
  const shown = keys.flatMap((key) => rows[key] ?? []);
  const start = Math.min(0, ...shown.map((row) => row.start / sampleRate));
  const end = Math.max(sourceFrames / sampleRate, ...shown.map((row) => row.end / sampleRate), start + 0.001);
  return { start, end };
}
