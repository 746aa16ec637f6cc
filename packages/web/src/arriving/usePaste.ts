import { useEffect } from 'react';
import { CHAIN_FORMAT } from '@hexenkessel/core/chain';

/** Text longer than this is no chain, and is not looked through for one: characters. */
const LONGEST = 4 * 1024 * 1024;

/** Calls back with text that is pasted outside of any field and says of itself that it is a chain. */
export function usePaste(onText: (text: string) => void): void {
  useEffect(() => {
    const paste = (event: ClipboardEvent) => {
      const target = event.target as HTMLElement | null;
      if (target?.closest?.('input, textarea, [contenteditable=true], [role=dialog]')) return;
      const text = event.clipboardData?.getData('text/plain') ?? '';
      if (text.length > LONGEST || !text.includes(CHAIN_FORMAT)) return;
      event.preventDefault();
      onText(text);
    };
    document.addEventListener('paste', paste);
    return () => document.removeEventListener('paste', paste);
  }, [onText]);
}
