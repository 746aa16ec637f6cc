import type { Knex } from 'knex';
import * as z from 'zod';
import { storageSchema } from '@hexenkessel/core/protocol';
import { makeBackup } from '../store/backup.ts';
import type { Restoring } from '../store/restoring.ts';
import { route, type Route } from '../http/route.ts';
import type { AudioFiles } from './audioFiles.ts';
import type { Sounds } from './sounds.ts';
import type { SoundUses } from './soundUses.ts';

/** Sounds that are let go of in one go. */
const AT_ONCE = 1000;

interface Parts {
  readonly sounds: Sounds;
  readonly uses: SoundUses;
  readonly files: AudioFiles;
  readonly restoring: Restoring;
  readonly database: Knex;
}

/** What the store takes up, what of it nobody needs, and all of it to be laid somewhere else and back. */
export function storageRoutes({ sounds, uses, files, restoring, database }: Parts): Route[] {
  const storage = async () => {
    const unneeded = await uses.unneeded();
    return {
      ...(await sounds.extent()),
      freeBytes: await files.freeBytes(),
      unneededSounds: unneeded.length,
      unneeded: unneeded.slice(0, AT_ONCE),
      restorable: await restoring.isPossible(),
    };
  };
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
      method: 'post',
      path: '/restore',
      id: 'restoreBackup',
      summary: 'Put a backup in place of a store in which nothing was done yet; the server begins anew with it',
      upload: ['application/zip', 'application/octet-stream'],
      response: z.object({
        made: z.string().describe('When the backup was made.'),
        sounds: z.number().int().describe('Files of audio in it.'),
      }),
      status: 202,
      handle: async ({ context }) => {
        const { made, files: held } = await restoring.take(context.req);
        return { made, sounds: held.length - 1 };
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
      body: z.object({ ids: z.array(z.string()).max(AT_ONCE) }),
      response: storageSchema(),
      handle: async ({ body }) => {
        // What has come to be needed meanwhile stays.
        const unneeded = new Set((await uses.unneeded()).map(({ id }) => id));
        for (const id of body.ids) if (unneeded.has(id)) await sounds.delete(id);
        return storage();
      },
    }),
  ];
}
