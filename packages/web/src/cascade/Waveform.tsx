import { useEffect, useRef, useState } from 'react';
import { drawWaveform } from './drawWaveform.ts';
import type { RowPicture } from './renderReport.ts';
import type { TimeScale } from './timeScale.ts';

interface Props {
  readonly scale: TimeScale;
  readonly sampleRate: number;
  readonly row: RowPicture | undefined;
  readonly ghost: RowPicture | undefined;
  readonly label: string;
}

function token(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(`--chakra-colors-${name}`).trim();
}

/** A row's waveform in ink, the row before it ghosted behind. */
export function Waveform({ scale, sampleRate, row, ghost, label }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [themes, setThemes] = useState(0);
  useEffect(() => {
    const redraw = () => setThemes((n) => n + 1);
    window.addEventListener('themechange', redraw);
    return () => window.removeEventListener('themechange', redraw);
  }, []);
  const { start, end, width } = scale;
  useEffect(() => {
    if (!canvas.current) return;
    drawWaveform(canvas.current, { start, end, width }, sampleRate, row, ghost, {
      ink: `color-mix(in srgb, ${token('ink')} 62%, transparent)`,
      body: token('ink'),
      ghost: `color-mix(in srgb, ${token('copper')} 30%, transparent)`,
      rule: token('rule'),
      alarm: token('alarm'),
    });
  }, [start, end, width, sampleRate, row, ghost, themes]);
  return (
    <canvas ref={canvas} role="img" aria-label={label} style={{ display: 'block', width: '100%', height: '100%' }} />
  );
}
