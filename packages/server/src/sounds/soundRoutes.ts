import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { z } from 'zod';
import { LIMITS, WAV_DEPTHS, soundSchema } from '@hexenkessel/core';
import { Problem } from '../http/problem.ts';
import { route, type Route } from '../http/route.ts';
import type { AudioWorkers } from '../workers/audioWorkers.ts';
import type { AudioFiles } from './audioFiles.ts';
import type { SoundIntake } from './soundIntake.ts';
import type { Sounds } from './sounds.ts';

const id = z.object({ id: z.string() });

export function soundRoutes(sounds: Sounds, intake: SoundIntake, files: AudioFiles, workers: AudioWorkers): Route[] {
  return [
    route({
      method: 'get',
      path: '/sounds',
      summary: 'All sounds, newest first',
      response: z.array(soundSchema),
      handle: async () => sounds.list(),
    }),
    route({
      method: 'post',
      path: '/sounds',
      summary: 'Take a sound: the body is a WAV file',
      query: z.object({ name: z.string().max(1000) }),
      response: soundSchema,
      status: 201,
      handle: async ({ query, context }) => {
        if (Number(context.get('content-length')) > LIMITS.soundBytes) {
          throw new Problem(
            413,
            `The sound is larger than ${LIMITS.soundBytes} bytes (4 GiB), which is the most that is allowed.`,
          );
        }
        return intake.take(query.name, context.req);
      },
    }),
    route({
      method: 'get',
      path: '/sounds/{id}',
      summary: 'One sound',
      params: id,
      response: soundSchema,
      handle: async ({ params }) => sounds.get(params.id),
    }),
    route({
      method: 'get',
      path: '/sounds/{id}/audio',
      summary: 'The audio: as it is kept, or written anew with a depth',
      params: id,
      query: z.object({ depth: z.enum(WAV_DEPTHS).optional() }),
      handle: async ({ params, query, context }) => {
        const sound = await sounds.get(params.id);
        if (!(await files.exists(sound.sha256)))
          throw new Problem(404, `The audio of "${sound.name}" is missing on disk.`);
        context.type = 'audio/wav';
        const kept = files.pathOf(sound.sha256);
        if (query.depth === undefined) {
          context.set('Cache-Control', 'private, max-age=31536000, immutable');
          context.length = sound.bytes;
          context.body = createReadStream(kept);
          return undefined;
        }
        const temporary = files.temporaryPath();
        const { lineage } = sound;
        await workers.export({
          sourcePath: kept,
          outputPath: temporary,
          depth: query.depth,
          name: sound.name,
          comment: lineage ? `Made with the chain ${lineage.chainName} ${lineage.version}` : '',
          timeReference: sound.timeReference ?? undefined,
        });
        context.attachment(`${sound.name}.wav`);
        context.length = (await stat(temporary)).size;
        const stream = createReadStream(temporary);
        stream.once('close', () => void files.discard(temporary));
        context.body = stream;
        return undefined;
      },
    }),
  ];
}
