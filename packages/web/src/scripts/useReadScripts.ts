import { useEffect, useState } from 'react';
import { BUILT_INS, SCRIPT_LANGUAGE } from '@hexenkessel/core/stages';
import { useScriptsQuery } from '../api/api.ts';
import { pictures } from '../pictures/usePicture.ts';
import { learn } from './readyFor.ts';

/** A script that is in order. */
export interface ReadScript {
  /** Under which it is opened in the Script view. */
  readonly id: string;
  readonly text: string;
}

const NONE: { readonly scripts: readonly ReadScript[]; readonly reading: boolean } = { scripts: [], reading: true };

/** Scripts that are kept here, favourites and examples, as far as they are in order; none while they are still being read. */
export function useReadScripts(asked: boolean): typeof NONE {
  const { data, isError } = useScriptsQuery(undefined, { skip: !asked });
  const [read, setRead] = useState(NONE);
  useEffect(() => {
    if (!asked || !data) return undefined;
    let left = false;
    // What was read may have to be read again, much later.
    learn().catch(() => undefined);
    inOrder(data)
      .catch(() => []) // what is built in is there all the same
      .then((scripts) => {
        if (!left) setRead({ scripts, reading: false });
      });
    return () => void (left = true);
  }, [asked, data]);
  return isError && read === NONE ? { ...NONE, reading: false } : read;
}

/** Those that are scripts, each text once; read in a thread, so that the page goes on meanwhile. */
async function inOrder(kept: readonly ReadScript[]): Promise<readonly ReadScript[]> {
  const work = pictures();
  const examples = Object.entries(await work.exampleTexts());
  const all = [
    ...kept.map(({ id, text }) => ({ id, text })),
    ...examples.map(([name, text]) => ({ id: `example-${name}`, text })),
  ];
  const scripts = all.filter(({ text }, n) => all.findIndex((one) => one.text === text) === n);
  const said = await work.readScripts(scripts.map(({ text }) => text));
  scripts.forEach(({ text }, n) => {
    if (said[n] !== undefined) BUILT_INS.take(SCRIPT_LANGUAGE, text, said[n]);
  });
  return scripts.filter((_, n) => said[n] !== undefined);
}
