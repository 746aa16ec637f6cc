import type { KeyboardEvent } from 'react';

/** The keys between the rows and groups of a list of parameters, as the overview shows them. */
export const ROW_STEPS = [
  ['Alt+↑ ↓', 'to the row before or after'],
  ['Alt+Page ↑ ↓', 'to the group before or after'],
] as const;

/** What of a row takes the focus: its scale, else what is chosen, switched or typed in it. */
const FIRST_IN_ROW = ['[role=slider]', '[role=tab]', 'select', 'input', 'button'];

/** Moves the focus from row to row, or from head to head, within the list that the key was pressed in. */
export function stepThroughRows(event: KeyboardEvent<HTMLElement>): void {
  if (!event.altKey || event.ctrlKey || event.metaKey) return;
  const steps: Readonly<Record<string, readonly [string, number]>> = {
    ArrowDown: ['[data-row-of], [data-group-head]', 1],
    ArrowUp: ['[data-row-of], [data-group-head]', -1],
    PageDown: ['[data-group-head]', 1],
    PageUp: ['[data-group-head]', -1],
  };
  const step = steps[event.key];
  if (!step) return;
  const [selector, by] = step;
  event.preventDefault();
  event.stopPropagation();
  const stops = [...event.currentTarget.querySelectorAll<HTMLElement>(selector)];
  const here = event.target as HTMLElement;
  const after = stops.findIndex(
    (stop) => (here.compareDocumentPosition(stop) & Node.DOCUMENT_POSITION_FOLLOWING) !== 0,
  );
  const ahead = after < 0 ? stops.length : after;
  // What holds the focus comes before it in the document, too.
  const inside = stops.findIndex((stop) => stop.contains(here));
  const next = by > 0 ? ahead : (inside >= 0 ? inside : ahead) - 1;
  focusIn(stops[next]);
}

/** Puts the focus there as soon as it is on the page: a tab that has just been chosen comes a few frames later. */
export function focusWhenThere(selector: string, frames = 20): void {
  const element = document.querySelector(selector);
  if (element) focusIn(element);
  else if (frames > 0) requestAnimationFrame(() => focusWhenThere(selector, frames - 1));
}

/** Puts the focus on what is to be changed first. */
export function focusIn(element: Element | null | undefined): void {
  if (!element) return;
  const first = element.matches(FIRST_IN_ROW.join())
    ? element
    : FIRST_IN_ROW.map((kind) => element.querySelector(kind)).find((found) => found !== null);
  if (first instanceof HTMLElement) first.focus();
}
