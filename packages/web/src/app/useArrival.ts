import { useEffect, useRef, useState, type RefObject } from 'react';
import { TITLED } from '../parts/usePageTitle.ts';

/** What a change of page would do by itself: once the new view is there, the focus goes to it and its name is said. */
export function useArrival(): {
  readonly main: RefObject<HTMLDivElement | null>;
  /** The title of the view that was come to last; empty until another one is. */
  readonly announced: string;
} {
  const main = useRef<HTMLDivElement>(null);
  const last = useRef(location.pathname);
  const [announced, setAnnounced] = useState('');
  useEffect(() => {
    const arrive = () => {
      if (last.current === location.pathname) return;
      last.current = location.pathname;
      setAnnounced(document.title);
      // A field or a dialog of the view that has taken the focus keeps it.
      if (!main.current?.contains(document.activeElement)) main.current?.focus({ preventScroll: true });
    };
    window.addEventListener(TITLED, arrive);
    return () => window.removeEventListener(TITLED, arrive);
  }, []);
  return { main, announced };
}
