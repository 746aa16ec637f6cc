import { proxy } from 'comlink';
import { createContext, useContext, useEffect, useState, useSyncExternalStore } from 'react';
import type { ChainDocument } from '@hexenkessel/core/chain';
import type { Sound } from '@hexenkessel/core/protocol';
import { useSoundNamesQuery } from '../api/api.ts';
import { useSubject } from '../parts/useSubject.ts';
import { ChainRenderer, EMPTY, type CascadeState, type OpenThread, type RenderThread } from './chainRenderer.ts';
import { openThread } from '../thread/openThread.ts';

const openWorker: OpenThread = (onError) => {
  const { worker, work: remote } = openThread();
  worker.addEventListener('error', (event) => onError(event.message));
  return {
    render: (generation, sound, chain, sounds, report) =>
      remote.render(generation, sound, chain, sounds, proxy(report)),
    stop: () => remote.stop(),
    clip: (key) => remote.clip(key),
    arrived: (...asked) => remote.arrived(...asked),
    prepare: (...asked) => remote.prepare(...asked),
    stagePicture: (...asked) => remote.stagePicture(...asked),
    soundTempo: (sound) => remote.soundTempo(sound),
    soundOnsets: (sound) => remote.soundOnsets(sound),
    detail: (...asked) => remote.detail(...asked),
    movementTrace: (...asked) => remote.movementTrace(...asked),
    loopLoudness: (...asked) => remote.loopLoudness(...asked),
    close: () => worker.terminate(),
  } satisfies RenderThread;
};

/** A renderer that lives as long as the view. */
export function useNewRenderer(): ChainRenderer | undefined {
  const [renderer, setRenderer] = useState<ChainRenderer>();
  useEffect(() => {
    const fresh = new ChainRenderer(openWorker);
    setRenderer(fresh);
    return () => fresh.close();
  }, []);
  return renderer;
}

const never = () => () => undefined;

/** Renders a chain over a sound for a view of its own. */
export function useRenderOf(sound: Sound | undefined, document: ChainDocument) {
  const renderer = useNewRenderer();
  const named = useSoundNamesQuery().data;
  useEffect(() => {
    if (sound) renderer?.show(sound, document, named ?? []);
  }, [renderer, sound, document, named]);
  const state = useSyncExternalStore(renderer?.subscribe ?? never, () => renderer?.state ?? EMPTY);
  return { renderer, state };
}

export const RendererContext = createContext<ChainRenderer | undefined>(undefined);

/** The renderer of the view around. */
export function useRenderer(): ChainRenderer {
  const renderer = useContext(RendererContext);
  if (!renderer) throw new Error('There is no renderer around.');
  return renderer;
}

/** Something of what is rendered in the view around. */
export function useRendered<S>(select: (state: CascadeState) => S, isEqual?: (a: S, b: S) => boolean): S {
  return useSubject(useRenderer(), select, isEqual);
}

/** True once a chain was rendered and measured for the first time: the Bench can be used. */
export const isFirstDone = ({ measures, busy }: CascadeState): boolean => measures !== undefined && !busy;
