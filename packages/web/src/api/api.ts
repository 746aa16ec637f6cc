import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import { OptimisticChanges } from './optimisticChanges.ts';
import { isAskedFor, knownRenders, withNews, type RendersAsked } from './knownRenders.ts';
import { pagesOf, type ListAsked, type ListPage } from './pages.ts';
import { followRenders } from './renderEvents.ts';
import { readyFor } from '../scripts/readyFor.ts';
import type { ChainDocument } from '@hexenkessel/core/chain';
import type {
  ChainEntry,
  ChainName,
  ChainState,
  Desk,
  Dither,
  MixOrder,
  Render,
  RenderOrder,
  FavouriteChain,
  ScriptEntry,
  Sound,
  SoundChange,
  SoundName,
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

/** Sounds that are asked for by their ids at once: an address has no room for more. */
const MOST_IDS = 400;

/** What answers are about: what is changed of it is asked for anew. */
export const TAGS = ['Sounds', 'Chains', 'Chain', 'Renders', 'Storage', 'Scripts'] as const;

export const api = createApi({
  reducerPath: 'api',
  baseQuery: fetchBaseQuery({
    baseUrl: '/api',
    responseHandler: async (response) => {
      const text = await response.text();
      await readyFor(text);
      return text === '' ? null : (JSON.parse(text) as unknown);
    },
  }),
  tagTypes: TAGS,
  endpoints: (build) => ({
    soundPages: build.infiniteQuery<ListPage<Sound>, ListAsked, string | null>({
      ...pagesOf('/sounds'),
      providesTags: ['Sounds'],
    }),
    soundNames: build.query<SoundName[], void>({ query: () => '/sounds/names', providesTags: ['Sounds'] }),
    soundsFound: build.query<SoundName[], string>({
      query: (find) => ({ url: '/sounds/names', params: { find } }),
      providesTags: ['Sounds'],
    }),
    soundsOf: build.query<Sound[], readonly string[]>({
      queryFn: async (ids, _, __, ask) => {
        const come = soundChanges.asked(ids);
        const found: Sound[] = [];
        for (let n = 0; n < ids.length; n += MOST_IDS) {
          const part = ids.slice(n, n + MOST_IDS);
          const { data, error } = await ask({ url: '/sounds', params: { ids: part.join(','), limit: MOST_IDS } });
          if (error) return { error };
          found.push(...(data as Sound[]));
        }
        const sounds = soundChanges.over(found);
        come();
        return { data: ids.flatMap((id) => sounds.find((sound) => sound.id === id) ?? []) };
      },
      providesTags: ['Sounds'],
    }),
    soundFamily: build.query<Sound[], string>({ query: (id) => `/sounds/${id}/family`, providesTags: ['Sounds'] }),
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
      // Known at once: whoever goes on with it finds it there.
      async onQueryStarted(_, { dispatch, queryFulfilled }) {
        await queryFulfilled.then(
          ({ data: taken }) => void dispatch(api.util.upsertQueryData('soundsOf', [taken.id], [taken])),
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
          api.util.updateQueryData('soundsOf', [id], (sounds) => {
            for (const sound of sounds) Object.assign(sound, change);
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
    restoreBackup: build.mutation<{ readonly made: string; readonly sounds: number }, File>({
      query: (file) => ({
        url: '/restore',
        method: 'POST',
        body: file,
        headers: { 'content-type': 'application/zip' },
      }),
    }),
    cleanStorage: build.mutation<Storage, readonly string[]>({
      query: (ids) => ({ url: '/storage/clean', method: 'POST', body: { ids } }),
      invalidatesTags: ['Sounds', 'Storage', 'Renders'],
    }),
    chainPages: build.infiniteQuery<ListPage<ChainEntry>, ListAsked, string | null>({
      ...pagesOf('/chains'),
      providesTags: ['Chains'],
    }),
    chainNames: build.query<ChainName[], void>({ query: () => '/chains/names', providesTags: ['Chains'] }),
    chainIsThere: build.query<boolean, string>({
      query: (ids) => ({ url: '/chains', params: { ids } }),
      transformResponse: (found: ChainEntry[]) => found.length > 0,
      providesTags: ['Chains'],
    }),
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
    renders: build.query<Render[], RendersAsked>({
      query: (asked) => ({ url: '/renders', params: asked }),
      providesTags: ['Renders'],
      merge: (known, list) => knownRenders(known, list),
      // While anyone looks at renders, what the server says about them flows in.
      async onCacheEntryAdded(asked, { updateCachedData, cacheDataLoaded, cacheEntryRemoved, dispatch }) {
        await cacheDataLoaded;
        const end = followRenders({
          onRender: (changed) => {
            updateCachedData((renders) => withNews(renders, changed).filter(isAskedFor(asked)));
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
    scripts: build.query<ScriptEntry[], void>({ query: () => '/scripts', providesTags: ['Scripts'] }),
    favouriteChains: build.query<FavouriteChain[], void>({ query: () => '/favourites/chains' }),
    createScript: build.mutation<ScriptEntry, string>({
      query: (text) => ({ url: '/scripts', method: 'POST', body: { text } }),
      // Known at once: whoever goes to it finds it there.
      async onQueryStarted(_, { dispatch, queryFulfilled }) {
        await queryFulfilled.then(
          ({ data }) => void dispatch(api.util.updateQueryData('scripts', undefined, (list) => void list.push(data))),
          () => undefined,
        );
      },
      invalidatesTags: ['Scripts'],
    }),
    saveScript: build.mutation<ScriptEntry, { id: string; revision: number; text: string }>({
      query: ({ id, ...body }) => ({ url: `/scripts/${id}`, method: 'PUT', body }),
      async onQueryStarted({ id }, { dispatch, queryFulfilled }) {
        await queryFulfilled.then(
          ({ data }) =>
            void dispatch(
              api.util.updateQueryData('scripts', undefined, (list) => {
                const at = list.findIndex((one) => one.id === id);
                if (at >= 0) list[at] = data;
              }),
            ),
          () => undefined,
        );
      },
    }),
    deleteScript: build.mutation<undefined, string>({
      query: (id) => ({ url: `/scripts/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Scripts'],
    }),
    cancelRender: build.mutation<Render, string>({
      query: (id) => ({ url: `/renders/${id}/cancel`, method: 'POST' }),
      invalidatesTags: ['Renders'],
    }),
  }),
});

export const {
  useSoundPagesInfiniteQuery,
  useSoundNamesQuery,
  useLazySoundsFoundQuery,
  useSoundsOfQuery,
  useLazySoundsOfQuery,
  useSoundFamilyQuery,
  useDitherQuery,
  useTakeSoundMutation,
  useChainPagesInfiniteQuery,
  useChainNamesQuery,
  useChainIsThereQuery,
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
  useRestoreBackupMutation,
  useCleanStorageMutation,
  useLazyRenderQuery,
  useRenderAgainMutation,
  useStartRenderMutation,
  useCancelRenderMutation,
  useScriptsQuery,
  useFavouriteChainsQuery,
  useCreateScriptMutation,
  useSaveScriptMutation,
  useDeleteScriptMutation,
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
