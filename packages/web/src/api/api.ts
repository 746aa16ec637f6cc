import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import { OptimisticChanges } from './optimisticChanges.ts';
import { knownRenders, withNews } from './knownRenders.ts';
import { followRenders } from './renderEvents.ts';
import type { ChainDocument } from '@hexenkessel/core/chain';
import type {
  ChainEntry,
  ChainState,
  Desk,
  Dither,
  MixOrder,
  Render,
  RenderOrder,
  Sound,
  SoundChange,
  SoundNeeds,
  Storage,
  TakenSound,
} from '@hexenkessel/core/protocol';

export interface ProblemBody {
  readonly title: string;
  readonly status: number;
  readonly detail: string;
  readonly current?: ChainState;
}

/** What to tell the user about a request that failed. */
export function problemOf(error: unknown): ProblemBody {
  const data = (error as { data?: unknown }).data;
  if (typeof data === 'object' && data !== null && 'detail' in data) return data as ProblemBody;
  return {
    title: 'No answer',
    status: 0,
    detail: 'The server does not answer. Is it still running? Your work stays in this window.',
  };
}

/** What is said of sounds and not yet sure to come back. */
const soundChanges = new OptimisticChanges<Sound, SoundChange>();

/** What answers are about: what is changed of it is asked for anew. */
export const TAGS = ['Sounds', 'Chains', 'Chain', 'Renders', 'Storage'] as const;

export const api = createApi({
  reducerPath: 'api',
  baseQuery: fetchBaseQuery({
    baseUrl: '/api',
    responseHandler: async (response) => {
      const text = await response.text();
      return text === '' ? null : (JSON.parse(text) as unknown);
    },
  }),
  tagTypes: TAGS,
  endpoints: (build) => ({
    sounds: build.query<Sound[], void>({
      query: () => '/sounds',
      providesTags: ['Sounds'],
      transformResponse: (sounds: Sound[]) => soundChanges.over(sounds),
      onQueryStarted: async (_, { queryFulfilled }) => {
        const come = soundChanges.asked();
        await queryFulfilled.then(come, () => undefined);
      },
    }),
    dither: build.query<Dither, { id: string; writing: Record<string, string> }>({
      query: ({ id, writing }) => ({ url: `/sounds/${id}/dither`, params: writing }),
      // The samples of a sound never change.
      keepUnusedDataFor: 3600,
    }),
    takeSound: build.mutation<TakenSound, { file: File; channels?: string; rate?: number }>({
      query: ({ file, channels, rate }) => ({
        url: '/sounds',
        method: 'POST',
        params: {
          name: file.name.replace(/\.(wav|wave|aiff?|aifc|flac|ogg|oga|opus|mp3)$/i, ''),
          ...(channels === undefined ? {} : { channels }),
          ...(rate === undefined ? {} : { rate }),
        },
        body: file,
        headers: { 'content-type': 'application/octet-stream' },
      }),
      // In the list at once: whoever goes on with it finds it there.
      async onQueryStarted(_, { dispatch, queryFulfilled }) {
        await queryFulfilled.then(
          ({ data: taken }) => {
            dispatch(
              api.util.updateQueryData('sounds', undefined, (sounds) => {
                if (!sounds.some(({ id }) => id === taken.id)) sounds.unshift(taken);
              }),
            );
          },
          () => undefined,
        );
      },
      invalidatesTags: ['Sounds', 'Storage'],
    }),
    changeSound: build.mutation<Sound, { id: string; change: SoundChange }>({
      query: ({ id, change }) => ({ url: `/sounds/${id}`, method: 'PATCH', body: change }),
      // Shown at once: the next change builds on this one, however late the answer comes.
      async onQueryStarted({ id, change }, { dispatch, queryFulfilled }) {
        const shown = dispatch(
          api.util.updateQueryData('sounds', undefined, (sounds) => {
            const sound = sounds.find((candidate) => candidate.id === id);
            if (sound) Object.assign(sound, change);
          }),
        );
        const answered = soundChanges.begin(id, change);
        await queryFulfilled.then(
          () => answered(true),
          () => {
            answered(false);
            shown.undo();
          },
        );
      },
      invalidatesTags: ['Sounds', 'Storage'],
    }),
    mixSounds: build.mutation<Sound, MixOrder>({
      query: (body) => ({ url: '/mixes', method: 'POST', body }),
      invalidatesTags: ['Sounds', 'Storage'],
    }),
    soundNeeds: build.query<SoundNeeds, string>({ query: (id) => `/sounds/${id}/needs`, providesTags: ['Sounds'] }),
    deleteSound: build.mutation<undefined, string>({
      query: (id) => ({ url: `/sounds/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Sounds', 'Storage', 'Renders'],
    }),
    relinkSound: build.mutation<Sound, { id: string; file: File }>({
      query: ({ id, file }) => ({
        url: `/sounds/${id}/audio`,
        method: 'PUT',
        body: file,
        headers: { 'content-type': 'application/octet-stream' },
      }),
      invalidatesTags: ['Sounds', 'Storage'],
    }),
    storage: build.query<Storage, void>({ query: () => '/storage', providesTags: ['Storage', 'Sounds'] }),
    cleanStorage: build.mutation<Storage, readonly string[]>({
      query: (ids) => ({ url: '/storage/clean', method: 'POST', body: { ids } }),
      invalidatesTags: ['Sounds', 'Storage', 'Renders'],
    }),
    chains: build.query<ChainEntry[], void>({ query: () => '/chains', providesTags: ['Chains'] }),
    chain: build.query<ChainState, string>({ query: (id) => `/chains/${id}`, providesTags: ['Chain'] }),
    desk: build.query<Desk, string>({ query: (id) => `/chains/${id}/desk` }),
    keepDesk: build.mutation<Desk, { id: string; part: Partial<Desk> }>({
      query: ({ id, part }) => ({ url: `/chains/${id}/desk`, method: 'PATCH', body: part }),
    }),
    createChain: build.mutation<ChainState, { id?: string; document: ChainDocument }>({
      query: (body) => ({ url: '/chains', method: 'POST', body }),
      invalidatesTags: ['Chains'],
    }),
    deleteChain: build.mutation<undefined, string>({
      query: (id) => ({ url: `/chains/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Chains', 'Sounds', 'Storage'],
    }),
    saveDraft: build.mutation<ChainState, { id: string; revision: number; document: ChainDocument }>({
      query: ({ id, ...body }) => ({ url: `/chains/${id}/draft`, method: 'PUT', body }),
      invalidatesTags: ['Chains'],
    }),
    saveVersion: build.mutation<ChainState, { id: string; revision: number; document: ChainDocument; why: string }>({
      query: ({ id, ...body }) => ({ url: `/chains/${id}/versions`, method: 'POST', body }),
      invalidatesTags: ['Chains'],
    }),
    version: build.query<ChainDocument, { id: string; number: number }>({
      query: ({ id, number }) => `/chains/${id}/versions/${number}`,
    }),
    renders: build.query<Render[], void>({
      query: () => '/renders',
      providesTags: ['Renders'],
      merge: (known, list) => knownRenders(known, list),
      // While anyone looks at renders, what the server says about them flows in.
      async onCacheEntryAdded(_, { updateCachedData, cacheDataLoaded, cacheEntryRemoved, dispatch }) {
        await cacheDataLoaded;
        const end = followRenders({
          onRender: (changed) => {
            updateCachedData((renders) => withNews(renders, changed));
            if (changed.status === 'done') dispatch(api.util.invalidateTags(['Sounds']));
          },
          // After a pause in the connection something may have been missed.
          onConnected: () => dispatch(api.util.invalidateTags(['Renders'])),
        });
        await cacheEntryRemoved;
        end();
      },
    }),
    render: build.query<Render & { readonly document: ChainDocument }, string>({ query: (id) => `/renders/${id}` }),
    renderAgain: build.mutation<Render, string>({
      query: (id) => ({ url: `/renders/${id}/again`, method: 'POST' }),
      invalidatesTags: ['Renders'],
    }),
    startRender: build.mutation<Render, RenderOrder>({
      query: (body) => ({ url: '/renders', method: 'POST', body }),
      invalidatesTags: ['Renders'],
    }),
    cancelRender: build.mutation<Render, string>({
      query: (id) => ({ url: `/renders/${id}/cancel`, method: 'POST' }),
      invalidatesTags: ['Renders'],
    }),
  }),
});

export const {
  useSoundsQuery,
  useDitherQuery,
  useTakeSoundMutation,
  useChainsQuery,
  useChainQuery,
  useDeskQuery,
  useCreateChainMutation,
  useDeleteChainMutation,
  useSaveDraftMutation,
  useSaveVersionMutation,
  useLazyVersionQuery,
  useRendersQuery,
  useChangeSoundMutation,
  useSoundNeedsQuery,
  useDeleteSoundMutation,
  useMixSoundsMutation,
  useRelinkSoundMutation,
  useStorageQuery,
  useCleanStorageMutation,
  useLazyRenderQuery,
  useRenderAgainMutation,
  useStartRenderMutation,
  useCancelRenderMutation,
} = api;

/** Where a sound's audio can be fetched: as kept, or written anew. */
export function audioUrl(soundId: string, writing: Readonly<Record<string, string>> = {}): string {
  const query = new URLSearchParams(writing).toString();
  return `/api/sounds/${soundId}/audio${query === '' ? '' : `?${query}`}`;
}

/** Where a chain can be fetched as it is stored, read or not. */
export const storedChainUrl = (id: string) => `/api/chains/${id}/stored`;

/** Where several sounds can be fetched as a ZIP file. */
export function zipUrl(ids: readonly string[], writing: Readonly<Record<string, string>>): string {
  return `/api/export?${new URLSearchParams({ ids: ids.join(','), ...writing }).toString()}`;
}
