import { useEffect, useState } from 'react';
import type { Clip } from '@hexenkessel/core/model';
import { WavReader, bytesOfBlob } from '@hexenkessel/core/formats';
import type { Sound } from '@hexenkessel/core/protocol';
import { audioUrl } from '../api/api.ts';

/** The samples of a sound, fetched when they are first looked at; or why they do not come. */
export function useSoundClip(sound: Sound | undefined): { readonly clip?: Clip; readonly failure?: string } {
  const [state, setState] = useState<{ readonly id?: string; readonly clip?: Clip; readonly failure?: string }>({});
  const id = sound?.id;
  const missing = sound?.missing === true;
  useEffect(() => {
    if (id === undefined || missing) return undefined;
    const leaving = new AbortController();
    const fetchIt = async () => {
      const response = await fetch(audioUrl(id), { signal: leaving.signal });
      if (!response.ok) throw new Error(((await response.json()) as { detail: string }).detail);
      setState({ id, clip: await (await WavReader.open(bytesOfBlob(await response.blob()))).readClip() });
    };
    fetchIt().catch((error: unknown) => {
      if (!leaving.signal.aborted) setState({ id, failure: (error as Error).message });
    });
    return () => leaving.abort();
  }, [id, missing]);
  return state.id === id ? state : {};
}
