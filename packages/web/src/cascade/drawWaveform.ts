import type { RowPicture } from './renderReport.ts';
import { toPixel, toSeconds, type TimeScale } from './timeScale.ts';

export interface WaveformColours {
  readonly ink: string;
  readonly body: string;
  readonly ghost: string;
  readonly rule: string;
  readonly alarm: string;
}

/** Draws a row in ink: the ghost of the row before, the span from least to greatest, and the body of its RMS. */
export function drawWaveform(
  canvas: HTMLCanvasElement,
  scale: TimeScale,
  sampleRate: number,
  row: RowPicture | undefined,
  ghost: RowPicture | undefined,
  colours: WaveformColours,
): void {
  const density = window.devicePixelRatio || 1;
  const height = canvas.clientHeight;
  const width = Math.round(scale.width);
  canvas.width = Math.max(1, width * density);
  canvas.height = Math.max(1, height * density);
  const context = canvas.getContext('2d');
  if (!context || width <= 0) return;
  context.scale(density, density);
  const middle = height / 2;
  context.fillStyle = colours.rule;
  context.fillRect(0, middle - 0.5, width, 1);
  if (ghost) drawSpan(context, scale, sampleRate, ghost, middle, colours.ghost, undefined, undefined);
  if (row) drawSpan(context, scale, sampleRate, row, middle, colours.ink, colours.body, colours.alarm);
}

/** Frames to a pixel below which samples are joined by a line. */
const LINE_FROM = 0.5;

function drawSpan(
  context: CanvasRenderingContext2D,
  scale: TimeScale,
  sampleRate: number,
  row: RowPicture,
  middle: number,
  spanColour: string,
  bodyColour: string | undefined,
  clipColour: string | undefined,
): void {
  const { min, max, rms, framesPerColumn } = row.overview;
  const first = Math.max(0, Math.floor(toPixel(scale, row.start / sampleRate)));
  const last = Math.min(scale.width, Math.ceil(toPixel(scale, row.end / sampleRate)));
  const reach = middle - 2;
  const clamp = (value: number) => Math.max(-1, Math.min(1, value)) * reach;
  const framesPerPixel = ((scale.end - scale.start) * sampleRate) / scale.width;
  if (framesPerColumn <= 1 && framesPerPixel < LINE_FROM) {
    context.strokeStyle = bodyColour ?? spanColour;
    context.lineWidth = 1.4;
    context.beginPath();
    for (let column = 0; column < max.length; column++) {
      const x = toPixel(scale, (row.start + column + 0.5) / sampleRate);
      if (x < first - 20 || x > last + 20) continue;
      // Of two sides, the one that is further out.
      context.lineTo(x, middle - clamp(max[column] > -min[column] ? max[column] : min[column]));
    }
    context.stroke();
    return;
  }
  for (let x = first; x < last; x++) {
    const from = Math.max(0, Math.floor((toSeconds(scale, x) * sampleRate - row.start) / framesPerColumn));
    const to = Math.min(
      max.length,
      Math.max(from + 1, Math.ceil((toSeconds(scale, x + 1) * sampleRate - row.start) / framesPerColumn)),
    );
    let least = 0;
    let most = 0;
    let energy = 0;
    for (let column = from; column < to; column++) {
      if (min[column] < least) least = min[column];
      if (max[column] > most) most = max[column];
      energy += rms[column] * rms[column];
    }
    const top = middle - clamp(most);
    context.fillStyle = spanColour;
    context.fillRect(x, top, 1, Math.max(1, middle - clamp(least) - top));
    if (bodyColour) {
      const body = clamp(Math.sqrt(energy / Math.max(1, to - from)));
      context.fillStyle = bodyColour;
      context.fillRect(x, middle - body, 1, Math.max(1, 2 * body));
    }
    if (clipColour && (most > 1 || least < -1)) {
      context.fillStyle = clipColour;
      context.fillRect(x, 0, 1, 4);
    }
  }
}
