import type { Knex } from 'knex';
import * as z from 'zod';
import { storageSchema } from '@hexenkessel/core/protocol';
import { makeBackup } from '../store/backup.ts';
import { route, type Route } from '../http/route.ts';
import type { AudioFiles } from './audioFiles.ts';
import type { Sounds } from './sounds.ts';

/** What the store takes up, what of it nobody needs, and all of it to be laid somewhere else. */
export function storageRoutes(sounds: Sounds, files: AudioFiles, database: Knex): Route[] {
  const storage = async () => ({
    ...(await files.usage()),
    sounds: (await sounds.list()).length,
    unneeded: await sounds.unneeded(),
  });
  return [
    route({
      method: 'get',
      path: '/backup',
      id: 'downloadBackup',
      summary: 'Everything in one ZIP file, as it is at this moment',
      file: {
        types: ['application/zip'],
        description: 'A manifest with hashes, the database, and every file of audio.',
      },
      handle: async ({ context }) => {
        const { stream, manifest } = await makeBackup(files, (to) => database.raw('VACUUM INTO ?', [to]));
        context.attachment(`hexenkessel-${manifest.made.slice(0, 10)}.zip`);
        context.type = 'application/zip';
        context.body = stream;
        return undefined;
      },
    }),
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
