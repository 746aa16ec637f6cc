import * as z from 'zod';
import { storageSchema } from '@hexenkessel/core/protocol';
import { route, type Route } from '../http/route.ts';
import type { AudioFiles } from './audioFiles.ts';
import type { Sounds } from './sounds.ts';

/** What the store takes up, and what of it nobody needs. */
export function storageRoutes(sounds: Sounds, files: AudioFiles): Route[] {
  const storage = async () => ({
    ...(await files.usage()),
    sounds: (await sounds.list()).length,
    unneeded: await sounds.unneeded(),
  });
  return [
    route({
      method: 'get',
      path: '/storage',
      id: 'getStorage',
      summary: 'Storage used, and what of it nobody needs',
      response: storageSchema(),
      handle: storage,
    }),
    route({
      method: 'post',
      path: '/storage/clean',
      id: 'cleanStorage',
      summary: 'Delete sounds that nobody needs',
      body: z.object({ ids: z.array(z.string()).max(1000) }),
      response: storageSchema(),
      handle: async ({ body }) => {
        // What has come to be needed meanwhile stays.
        const unneeded = new Set((await sounds.unneeded()).map(({ id }) => id));
        for (const id of body.ids) if (unneeded.has(id)) await sounds.delete(id);
        return storage();
      },
    }),
  ];
}
