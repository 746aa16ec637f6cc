import { showLevel } from '../timing/display.ts';
import { beatSeconds, type Timing } from '../timing/tempo.ts';
import { escapeHtml } from './escape.ts';
import type { SheetRow } from './model.ts';

const ROW_HEIGHT = 64;
const RULER_HEIGHT = 26;
const LABEL_WIDTH = 132;

/** The Cascade as a picture of its own: SVG without scripts, fonts or colours from outside. */
export function cascadeSvg(rows: readonly SheetRow[], timing: Timing): string {
  if (rows.length === 0) return '';
  const [{ overview, sampleRate, sourceFrames }] = rows;
  const columns = overview.max.length;
  const width = LABEL_WIDTH + columns;
  const height = RULER_HEIGHT + rows.length * ROW_HEIGHT;
  const x = (frame: number) => LABEL_WIDTH + (frame - overview.start) / overview.framesPerColumn;
  const end = overview.start + columns * overview.framesPerColumn;
  const parts = [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" role="img" aria-label="The sound after each stage" font-family="sans-serif" font-size="12">`,
    `<rect width="${width}" height="${height}" fill="#f8f3e8"/>`,
    `<rect x="${x(sourceFrames)}" y="0" width="${Math.max(0, x(end) - x(sourceFrames))}" height="${height}" fill="#e9dfca"/>`,
    `<rect x="${LABEL_WIDTH}" y="0" width="${Math.max(0, x(0) - LABEL_WIDTH)}" height="${height}" fill="#dfe6dd"/>`,
    ...rulerMarks(overview.start / sampleRate, end / sampleRate, timing).map(
      ([seconds, text]) =>
        `<path d="M${x(seconds * sampleRate)} ${RULER_HEIGHT - 6}V${height}" stroke="#cfc3a8"/>` +
        `<text x="${x(seconds * sampleRate) + 3}" y="${RULER_HEIGHT - 10}" fill="#5b5140" font-size="10">${text}</text>`,
    ),
    `<path d="M${x(0)} 0V${height}" stroke="#8a4b2a" stroke-width="1.5"/>`,
    ...rows.map((row, index) => rowPicture(row, RULER_HEIGHT + index * ROW_HEIGHT)),
    '</svg>',
  ];
  return parts.join('');
}

function rowPicture(row: SheetRow, top: number): string {
  const { min, max } = row.overview;
  const middle = top + ROW_HEIGHT / 2;
  const scale = ROW_HEIGHT / 2 - 3;
  const y = (value: number) => (middle - Math.max(-1, Math.min(1, value)) * scale).toFixed(1);
  const upper = Array.from(max, (value, i) => `${LABEL_WIDTH + i} ${y(value)}`);
  const lower = Array.from(min, (value, i) => `${LABEL_WIDTH + i} ${y(value)}`).reverse();
  return (
    `<path d="M${LABEL_WIDTH} ${middle}H${LABEL_WIDTH + max.length}" stroke="#b9ab8c"/>` +
    `<path d="M${upper.join('L')}L${lower.join('L')}Z" fill="#2b2a33"/>` +
    `<text x="8" y="${middle - 2}" fill="#2b2a33">${escapeHtml(row.title)}</text>` +
    `<text x="8" y="${middle + 13}" fill="#5b5140" font-size="10">peak ${showLevel(row.peak)}</text>`
  );
}

/** Places for ruler marks in seconds: every so many beats that there are at most a dozen. */
function rulerMarks(start: number, end: number, timing: Timing): [number, string][] {
  const beat = beatSeconds(timing);
  let step = 1;
  while ((end - start) / (beat * step) > 12) step *= 2;
  const marks: [number, string][] = [];
  for (let n = Math.ceil(start / (beat * step)); n * beat * step < end; n++) {
    const beats = `${n < 0 ? '\u2212' : ''}${Math.abs(n * step)} ${Math.abs(n * step) === 1 ? 'beat' : 'beats'}`;
    // A mark too near the edge stays without its text.
    marks.push([n * beat * step, end - n * beat * step < (end - start) / 14 ? '' : beats]);
  }
  return marks;
}
