import { useEffect, useRef, useState, type RefObject } from 'react';

/** What a change of page would do by itself: the focus goes to the new view, and its name is said. */
export function useArrival(pathname: string): {
  readonly main: RefObject<HTMLDivElement | null>;
  /** The title of the view that was come to last; empty until another one is. */
  readonly announced: string;
} {
  const main = useRef<HTMLDivElement>(null);
  const last = useRef(pathname);
  const [announced, setAnnounced] = useState('');
  useEffect(() => {
    if (last.current === pathname) return;
    last.current = pathname;
    setAnnounced(document.title);
    // A field or a dialog of the view that has taken the focus keeps it.
    if (!main.current?.contains(document.activeElement)) main.current?.focus({ preventScroll: true });
  }, [pathname]);
  return { main, announced };
}
