/** Scripts that can be opened: those kept on the server, favourites, and those that ship. */
import { useMemo } from 'react';
import type { ScriptEntry } from '@hexenkessel/core/protocol';
import { EXAMPLE_TEXTS } from '@hexenkessel/core/script';
import { useScriptsQuery } from '../api/api.ts';
import { titleIn } from './titles.ts';

export interface OpenScript {
  readonly id: string;
  readonly title: string;
  readonly text: string;
  readonly from: ScriptEntry['from'] | 'examples';
  readonly revision: number;
}

/** Milliseconds. */
const LOOK_AGAIN = 3000;

export const EXAMPLES: readonly OpenScript[] = Object.entries(EXAMPLE_TEXTS).map(([name, text]) => ({
  id: `example-${name}`,
  title: titleIn(text),
  text,
  from: 'examples',
  revision: 0,
}));

export function useScripts() {
  // Files in the folder of favourites change by themselves.
  const { data, error, isLoading } = useScriptsQuery(undefined, { pollingInterval: LOOK_AGAIN });
  const scripts = useMemo((): readonly OpenScript[] => [...(data ?? []), ...EXAMPLES], [data]);
  return { scripts, error, isLoading };
}
