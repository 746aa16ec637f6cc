import { useEffect } from 'react';

/** Told by the window when a view has given the page its title. */
export const TITLED = 'hexenkessel:titled';

/** Names the page in the window's title and in the history: from what it is about to what it belongs to. */
export function usePageTitle(...parts: readonly (string | undefined)[]): void {
  const title = [...parts.filter(Boolean), 'Hexenkessel'].join(' – ');
  useEffect(() => {
    document.title = title;
    window.dispatchEvent(new Event(TITLED));
  }, [title]);
}
