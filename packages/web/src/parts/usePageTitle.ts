import { useEffect } from 'react';

/** Names the page in the window's title and in the history: from what it is about to what it belongs to. */
export function usePageTitle(...parts: readonly (string | undefined)[]): void {
  const title = [...parts.filter(Boolean), 'Hexenkessel'].join(' – ');
  useEffect(() => {
    document.title = title;
  }, [title]);
}
