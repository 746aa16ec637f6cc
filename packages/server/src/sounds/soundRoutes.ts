import * as z from 'zod';
import { LIMITS } from '@hexenkessel/core/model';
import { parseChannels } from '@hexenkessel/core/formats';
import {
  mixOrderSchema,
  soundChangeSchema,
  SOUND_KINDS,
  soundNameSchema,
  soundNeedsSchema,
  soundSchema,
  takenSoundSchema,
} from '@hexenkessel/core/protocol';
import { answerPage, idList, pageQuery } from '../http/pages.ts';
import { Problem } from '../http/problem.ts';
import { route, type Route } from '../http/route.ts';
import type { Mixing } from './mixing.ts';
import type { SoundIntake } from './soundIntake.ts';
import { SOUND_SORTS, type Sounds } from './sounds.ts';

const id = z.object({ id: z.string() });
const kind = z.enum(SOUND_KINDS).optional();
const SOUND_TYPES = ['audio/wav', 'audio/aiff', 'audio/flac', 'audio/ogg', 'audio/mpeg', 'application/octet-stream'];
const rate = z.coerce.number().int().min(LIMITS.sampleRate.min).max(LIMITS.sampleRate.max).optional();

export function soundRoutes(sounds: Sounds, intake: SoundIntake, mixing: Mixing): Route[] {
  return [
    route({
      method: 'get',
      path: '/sounds',
      id: 'listSounds',
      summary: 'Sounds, newest first, page by page',
      query: pageQuery(SOUND_SORTS).extend({ kind, ids: idList() }),
      response: z.array(soundSchema()),
      paged: true,
      handle: async ({ query, context }) => answerPage(context, await sounds.list(query)),
    }),
    route({
      method: 'get',
      path: '/sounds/names',
      id: 'listSoundNames',
      summary: 'What all sounds are called and which content they have, newest first',
      query: z.object({ find: pageQuery(SOUND_SORTS).shape.find, kind }),
      response: z.array(soundNameSchema()),
      handle: ({ query }) => sounds.names(query),
    }),
    route({
      method: 'post',
      path: '/sounds',
      id: 'importSound',
      summary: 'Import a sound: the body is a WAV, AIFF, FLAC, Ogg Vorbis, Opus or MP3 file',
      upload: SOUND_TYPES,
      query: z.object({
        name: z.string().max(1000),
        channels: z.string().max(20).optional().describe('Which channels of the file are imported: 3, or 1,2.'),
        rate: rate.describe('Converts it to this sample rate.'),
      }),
      response: takenSoundSchema(),
      status: 201,
      handle: async ({ query, context }) => {
        if (Number(context.get('content-length')) > LIMITS.soundBytes) {
          throw new Problem(
            413,
            `The sound is larger than ${LIMITS.soundBytes} bytes (4 GiB), which is the most that is allowed.`,
          );
        }
        const channels = query.channels === undefined ? undefined : parseChannels(query.channels);
        return intake.take(query.name, context.req, { channels, rate: query.rate });
      },
    }),
    route({
      method: 'post',
      path: '/mixes',
      id: 'mixSounds',
      summary: 'Mix sounds into one that is kept',
      body: mixOrderSchema(),
      response: soundSchema(),
      status: 201,
      handle: async ({ body }) => mixing.mix(body),
    }),
    route({
      method: 'get',
      path: '/sounds/{id}',
      id: 'getSound',
      summary: 'One sound',
      params: id,
      response: soundSchema(),
      handle: async ({ params }) => sounds.get(params.id),
    }),
    route({
      method: 'patch',
      path: '/sounds/{id}',
      id: 'changeSound',
      summary: 'Change what is said of a sound: name, tags, loops and markers, whether it is final',
      params: id,
      body: soundChangeSchema(),
      response: soundSchema(),
      handle: async ({ params, body }) => sounds.change(params.id, body),
    }),
    route({
      method: 'get',
      path: '/sounds/{id}/family',
      id: 'getSoundFamily',
      summary: 'A sound, all that it was made of, and all that was made of those, newest first',
      params: id,
      response: z.array(soundSchema()),
      handle: ({ params }) => sounds.family(params.id),
    }),
    route({
      method: 'get',
      path: '/sounds/{id}/needs',
      id: 'getSoundNeeds',
      summary: 'What needs a sound',
      params: id,
      response: soundNeedsSchema(),
      handle: async ({ params }) => sounds.needs(params.id),
    }),
    route({
      method: 'delete',
      path: '/sounds/{id}',
      id: 'deleteSound',
      summary: 'Delete a sound that nothing needs',
      params: id,
      status: 204,
      handle: async ({ params, context }) => {
        await sounds.delete(params.id);
        context.status = 204;
        return undefined;
      },
    }),
    route({
      method: 'put',
      path: '/sounds/{id}/audio',
      id: 'restoreAudio',
      summary: 'Put audio that is missing on disk back: the body is the same file',
      upload: SOUND_TYPES,
      params: id,
      response: soundSchema(),
      handle: async ({ params, context }) => intake.relink(params.id, context.req),
    }),
  ];
}
