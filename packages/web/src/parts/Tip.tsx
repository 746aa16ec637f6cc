import { Tooltip } from '@chakra-ui/react';
import { cloneElement, useEffect, useState, type ReactElement } from 'react';
import { MainPortal } from './MainPortal.tsx';

/** A short text beside what the pointer or the focus is on; `TipLayer` shows it. */
export function Tip({ text, children }: { text: string; children: ReactElement }) {
  return cloneElement(children as ReactElement<Record<string, unknown>>, { 'data-tip': text });
}

const DELAY = 400; // milliseconds of rest before it is shown
const GRACE = 200; // milliseconds for the pointer to get from what is described onto the text
const ID = 'tip';

/**
 * Shows the tips of the whole page, one at a time: a machine of the library's for each button would be work at every
 * change. The text can be pointed at, stays until the pointer or the focus leaves, goes with Escape, and describes what it
 * stands beside (WCAG 1.4.13).
 */
export function TipLayer() {
  const [place, setPlace] = useState<Element>();
  useEffect(() => {
    let timer = 0;
    const after = (delay: number, next: Element | undefined) => {
      clearTimeout(timer);
      timer = window.setTimeout(() => setPlace(next), delay);
    };
    const show = ({ target }: Event) => {
      const at = target as Element | null;
      if (at?.closest?.(`[data-tip-text]`)) clearTimeout(timer);
      else {
        const next = at?.closest?.('[data-tip]') ?? undefined;
        after(next ? DELAY : GRACE, next);
      }
    };
    const hide = () => after(0, undefined);
    const escape = (event: KeyboardEvent) => event.key === 'Escape' && hide();
    document.addEventListener('pointerover', show);
    document.addEventListener('focusin', show);
    document.addEventListener('focusout', hide);
    document.addEventListener('pointerdown', hide);
    document.addEventListener('keydown', escape, true); // before the library takes the key
    return () => {
      clearTimeout(timer);
      document.removeEventListener('pointerover', show);
      document.removeEventListener('focusin', show);
      document.removeEventListener('focusout', hide);
      document.removeEventListener('pointerdown', hide);
      document.removeEventListener('keydown', escape, true);
    };
  }, []);
  useEffect(() => {
    if (!place) return undefined;
    const before = place.getAttribute('aria-describedby');
    place.setAttribute('aria-describedby', before === null ? ID : `${before} ${ID}`);
    return () => {
      if (before === null) place.removeAttribute('aria-describedby');
      else place.setAttribute('aria-describedby', before);
    };
  }, [place]);
  if (!place?.isConnected) return null;
  return (
    <Tooltip.Root
      open
      interactive
      ids={{ content: ID }}
      positioning={{ placement: 'bottom', gutter: 6, getAnchorRect: () => place.getBoundingClientRect() }}
    >
      <MainPortal>
        <Tooltip.Positioner>
          <Tooltip.Content data-tip-text maxWidth="320px" whiteSpace="pre-line">
            {place.getAttribute('data-tip')}
          </Tooltip.Content>
        </Tooltip.Positioner>
      </MainPortal>
    </Tooltip.Root>
  );
}
