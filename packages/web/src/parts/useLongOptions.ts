import { useState } from 'react';
import { flushSync } from 'react-dom';

/** From so many options on they are made only when they are gone to. */
const MANY = 200;

/** The options of a select: of thousands only the chosen one is there, until the select is gone to. */
export function useLongOptions<T>(options: readonly T[], isChosen: (option: T) => boolean) {
  const [open, setOpen] = useState(false);
  const shown = open || options.length <= MANY ? options : options.filter(isChosen);
  // At once: the browser opens the list right behind this.
  const make = () => flushSync(() => setOpen(true));
  return { shown, opening: { onPointerDown: make, onFocus: make } };
}
