import { useEffect, useRef } from 'react';
import { edits } from '@hexenkessel/core/chain';
import { problemOf, useLazyRenderQuery, useLazySoundsOfQuery } from '../api/api.ts';
import { useAppDispatch } from '../app/store.ts';
import { tellDone, tellFailure } from '../app/toaster.tsx';
import { mark } from '../chain/playbackSlice.ts';
import { edit } from '../chain/edit.ts';

/** Puts the chain that a render was made with on the bench, as a step that can be undone. */
export function useRestore(renderId: string | null, ready: boolean, onDone: () => void): void {
  const dispatch = useAppDispatch();
  const [fetchRender] = useLazyRenderQuery();
  const [fetchSounds] = useLazySoundsOfQuery();
  const asked = useRef<string>(undefined);
  useEffect(() => {
    if (renderId === null || !ready || asked.current === renderId) return;
    asked.current = renderId;
    void fetchRender(renderId).then(async ({ data, error }) => {
      onDone();
      if (!data) {
        tellFailure('Not restored', problemOf(error).detail);
        return;
      }
      const { document, region, name, sourceId } = data;
      const source = (await fetchSounds([sourceId])).data?.[0];
      const { render } = document;
      const settings = region
        ? {
            ...render.region,
            beyond: region.beyond,
            time: region.time ?? 'region',
            splice: region.splice !== undefined,
            tail: region.splice?.tail ?? render.region.tail,
          }
        : render.region;
      const made = { ...document, render: { ...render, region: settings } };
      dispatch(edit(edits.replaceChain(`the chain that made “${name}”`, made)));
      if (region && source) {
        const [start, end] = [region.region.start, region.region.end].map((frame) => frame / source.sampleRate);
        dispatch(mark(sourceId, { region: { start, end }, whole: false }));
      }
      tellDone('Restored', `The chain is as it was when it made “${name}”. Undo leads back.`);
    });
  }, [renderId, ready, dispatch, fetchRender, fetchSounds, onDone]);
}
