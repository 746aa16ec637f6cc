/** Paper by day, soot by night: follows the system until the user chooses. */
const KEY = 'hexenkessel.theme';
type Mode = 'light' | 'dark';

function currentMode(): Mode {
  const kept = localStorage.getItem(KEY);
  if (kept === 'light' || kept === 'dark') return kept;
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light';
}

function apply(mode: Mode): void {
  document.documentElement.classList.toggle('dark', mode === 'dark');
  document.documentElement.classList.toggle('light', mode === 'light');
  document.documentElement.style.colorScheme = mode;
}

export function startColourMode(): void {
  apply(currentMode());
}

export function toggleColourMode(): void {
  const next: Mode = currentMode() === 'dark' ? 'light' : 'dark';
  localStorage.setItem(KEY, next);
  apply(next);
  window.dispatchEvent(new Event('themechange')); // canvases draw with colours of their own reading
}
