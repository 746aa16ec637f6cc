import { Box } from '@chakra-ui/react';
import { MainPortal } from './MainPortal.tsx';
import { cloneElement, useEffect, useState, type ReactElement } from 'react';

/** A short text beside what the pointer or the focus is on; `TipLayer` shows it. */
export function Tip({ text, children }: { text: string; children: ReactElement }) {
  return cloneElement(children as ReactElement<Record<string, unknown>>, { 'data-tip': text });
}

interface Shown {
  readonly text: string;
  readonly left: number;
  readonly top: number;
}

const DELAY = 400; // milliseconds
const EDGE = 160; // pixels that a text keeps from the sides of the window

/** Shows the tips of the whole page, one at a time: a machine for each button would be work at every change. */
export function TipLayer() {
  const [shown, setShown] = useState<Shown>();
  useEffect(() => {
    let timer = 0;
    const show = (event: Event) => {
      clearTimeout(timer);
      const place = (event.target as Element | null)?.closest?.('[data-tip]');
      if (!place) {
        setShown(undefined);
        return;
      }
      timer = window.setTimeout(() => {
        const { left, width, bottom } = place.getBoundingClientRect();
        const middle = Math.max(EDGE, Math.min(innerWidth - EDGE, left + width / 2));
        setShown({
          text: place.getAttribute('data-tip') ?? '',
          left: middle,
          top: Math.min(bottom + 6, innerHeight - 30),
        });
      }, DELAY);
    };
    const hide = () => {
      clearTimeout(timer);
      setShown(undefined);
    };
    const escape = (event: KeyboardEvent) => event.key === 'Escape' && hide();
    document.addEventListener('pointerover', show);
    document.addEventListener('focusin', show);
    document.addEventListener('focusout', hide);
    document.addEventListener('pointerdown', hide);
    document.addEventListener('keydown', escape);
    return () => {
      clearTimeout(timer);
      document.removeEventListener('pointerover', show);
      document.removeEventListener('focusin', show);
      document.removeEventListener('focusout', hide);
      document.removeEventListener('pointerdown', hide);
      document.removeEventListener('keydown', escape);
    };
  }, []);
  if (!shown) return null;
  return (
    <MainPortal>
      <Box
        role="tooltip"
        position="fixed"
        zIndex="tooltip"
        pointerEvents="none"
        transform="translateX(-50%)"
        maxWidth="320px"
        px="2"
        py="1"
        borderRadius="2px"
        bg="ink"
        color="paper"
        fontSize="xs"
        whiteSpace="pre-line"
        style={{ left: shown.left, top: shown.top }}
      >
        {shown.text}
      </Box>
    </MainPortal>
  );
}
