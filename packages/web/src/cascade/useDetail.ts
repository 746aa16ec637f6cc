import { useEffect, useState } from 'react';
import type { RowPicture } from './renderReport.ts';
import type { TimeScale } from './timeScale.ts';
import { useRenderer } from './useRenderer.ts';

/** Milliseconds of rest before a part is looked at closer. */
const REST = 120;

/** What is drawn of a row: its outline or, where that is too coarse for what is zoomed to, the part itself once it is there. */
export function useDetail(row: RowPicture | undefined, scale: TimeScale, sampleRate: number): RowPicture | undefined {
  const renderer = useRenderer();
  const [detail, setDetail] = useState<{
    readonly of: RowPicture;
    readonly scale: TimeScale;
    readonly row: RowPicture;
  }>();
  const framesPerPixel = ((scale.end - scale.start) * sampleRate) / scale.width;
  const wanted = row !== undefined && row.overview.framesPerColumn > Math.max(1, framesPerPixel);
  useEffect(() => {
    if (!wanted) return undefined;
    let left = false;
    const timer = setTimeout(() => {
      const start = Math.floor(scale.start * sampleRate);
      const end = Math.ceil(scale.end * sampleRate) + 1;
      const columns = Math.min(2 * Math.ceil(scale.width), end - start);
      void renderer.detail(row.key, start, end, columns).then((overview) => {
        if (!left && overview) setDetail({ of: row, scale, row: { ...row, start, end, overview } });
      });
    }, REST);
    return () => {
      left = true;
      clearTimeout(timer);
    };
  }, [wanted, row, scale, sampleRate, renderer]);
  return wanted && detail?.of === row && detail?.scale === scale ? detail?.row : row;
}
