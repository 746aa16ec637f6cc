import { useEffect, useState } from 'react';
import type { ChainDocument } from '@hexenkessel/core/chain';

/** Milliseconds that another text is heard before it is seen. */
const WAIT = 150;

/** The chain of a script as it is drawn and rendered: what is heard goes before it, and nothing else is done meanwhile. */
export function useSeen(chain: ChainDocument | undefined): ChainDocument | undefined {
  const [seen, setSeen] = useState(chain);
  useEffect(() => {
    const timer = setTimeout(() => setSeen(chain), WAIT);
    return () => clearTimeout(timer);
  }, [chain]);
  const sameText = seen?.scripts[0].text === chain?.scripts[0].text;
  return !seen || sameText ? chain : seen;
}
