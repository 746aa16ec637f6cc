import { useEffect, useRef, useState } from 'react';
import { drawWaveform, type WaveformColours } from './drawWaveform.ts';
import type { RowPicture } from './renderReport.ts';
import type { TimeScale } from './timeScale.ts';

interface Props {
  readonly scale: TimeScale;
  readonly sampleRate: number;
  readonly row: RowPicture | undefined;
  readonly ghost: RowPicture | undefined;
  readonly label: string;
}

/** Read once for a theme: asking the page for a style makes it work all styles out. */
let colours: WaveformColours | undefined;
window.addEventListener('themechange', () => (colours = undefined), { capture: true });

function coloursNow(): WaveformColours {
  const style = getComputedStyle(document.documentElement);
  const token = (name: string) => style.getPropertyValue(`--chakra-colors-${name}`).trim();
  return (colours ??= {
    ink: `color-mix(in srgb, ${token('ink')} 62%, transparent)`,
    body: token('ink'),
    ghost: `color-mix(in srgb, ${token('copper')} 30%, transparent)`,
    rule: token('rule'),
    alarm: token('alarm'),
  });
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
    if (canvas.current) drawWaveform(canvas.current, { start, end, width }, sampleRate, row, ghost, coloursNow());
  }, [start, end, width, sampleRate, row, ghost, themes]);
  return (
    <canvas ref={canvas} role="img" aria-label={label} style={{ display: 'block', width: '100%', height: '100%' }} />
  );
}
