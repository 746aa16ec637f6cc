import * as z from 'zod';
import { route, type Route } from '../http/route.ts';
import type { Renders } from '../renders/renders.ts';
import type { AudioFiles } from '../sounds/audioFiles.ts';
import { VERSION } from './version.ts';

/** Who looks after a server asks this, and often: nothing here takes long, however full the store is. */
export function healthRoute(files: AudioFiles, renders: Renders): Route {
  return route({
    method: 'get',
    path: '/health',
    id: 'getHealth',
    summary: 'Whether the server answers and can work',
    response: z.object({
      status: z.literal('up'),
      version: z.string(),
      freeBytes: z.number().int().describe('On the disk of the data folder.'),
      queued: z.number().int().describe('Renders that wait.'),
      running: z.number().int().describe('Renders that run.'),
    }),
    handle: async () => ({
      status: 'up',
      version: VERSION,
      freeBytes: await files.freeBytes(),
      ...(await renders.waiting()),
    }),
  });
}
