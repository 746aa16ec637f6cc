/** Paper by day, soot by night: follows the system until the user chooses. */
import { keep, readKept } from './kept.ts';

const KEY = 'hexenkessel.theme';
type Mode = 'light' | 'dark';

const system = matchMedia('(prefers-color-scheme: dark)');
let chosen: Mode | undefined;

const currentMode = (): Mode => chosen ?? (system.matches ? 'dark' : 'light');

function apply(): void {
  const mode = currentMode();
  document.documentElement.classList.toggle('dark', mode === 'dark');
  document.documentElement.classList.toggle('light', mode === 'light');
  document.documentElement.style.colorScheme = mode;
  window.dispatchEvent(new Event('themechange')); // canvases draw with colours of their own reading
}

export function startColourMode(): void {
  const kept = readKept(KEY);
  if (kept === 'light' || kept === 'dark') chosen = kept;
  system.addEventListener('change', apply);
  apply();
}

export function toggleColourMode(): void {
  chosen = currentMode() === 'dark' ? 'light' : 'dark';
  keep(KEY, chosen);
  apply();
}
