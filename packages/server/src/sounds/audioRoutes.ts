import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { ZipFile } from 'yazl';
import * as z from 'zod';
import { InputError } from '@hexenkessel/core/model';
import { fileNameFor } from '@hexenkessel/core/formats';
import { ditherSchema, soundExportSchema, type Sound } from '@hexenkessel/core/protocol';
import { Problem } from '../http/problem.ts';
import { route, type Route } from '../http/route.ts';
import { sendFile } from '../http/sendFile.ts';
import type { AudioWorkers } from '../workers/audioWorkers.ts';
import type { AudioFiles } from './audioFiles.ts';
import type { Sounds } from './sounds.ts';

type Writing = z.output<ReturnType<typeof soundExportSchema>>;

const MOST_AT_ONCE = 200;

/** Sounds on their way out: as they are kept, or written for other programs. */
export function audioRoutes(sounds: Sounds, files: AudioFiles, workers: AudioWorkers): Route[] {
  /** Writes a sound to a temporary file that the caller takes away. */
  const write = async (sound: Sound, { kind, depth, rate }: Writing): Promise<string> => {
    if (sound.missing) throw new Problem(404, `The audio of "${sound.name}" is missing on disk.`);
    const outputPath = files.temporaryPath();
    const { lineage, name, marks, touched } = sound;
    try {
      await workers.export({
        sourcePath: files.pathOf(sound.sha256),
        outputPath,
        kind,
        depth,
        rate,
        name,
        marks,
        touched,
        comment: lineage ? `Made with the chain ${lineage.chainName} ${lineage.version}` : '',
        timeReference: sound.timeReference ?? undefined,
      });
    } catch (error) {
      await files.discard(outputPath);
      throw error;
    }
    return outputPath;
  };

  return [
    route({
      method: 'get',
      path: '/sounds/{id}/audio',
      id: 'downloadAudio',
      summary: 'The audio: as it was imported, or converted to WAV or FLAC',
      file: {
        types: ['audio/wav', 'audio/flac'],
        description: 'The file. As it is kept, it has its SHA-256 as ETag and can be asked for in parts.',
        inParts: true,
      },
      params: z.object({ id: z.string() }),
      query: soundExportSchema(),
      handle: async ({ params, query, context }) => {
        const sound = await sounds.get(params.id);
        if (sound.missing) throw new Problem(404, `The audio of "${sound.name}" is missing on disk.`);
        if (context.querystring === '') {
          context.type = 'audio/wav';
          sendFile(
            context,
            { path: files.pathOf(sound.sha256), bytes: sound.bytes, sha256: sound.sha256 },
            'private, max-age=31536000, immutable',
          );
          return undefined;
        }
        const path = await write(sound, query);
        context.attachment(`${sound.name}.${query.kind}`);
        context.type = `audio/${query.kind}`;
        context.length = (await stat(path)).size;
        const stream = createReadStream(path);
        stream.once('close', () => void files.discard(path));
        context.body = stream;
        return undefined;
      },
    }),
    route({
      method: 'get',
      path: '/sounds/{id}/dither',
      id: 'getDither',
      summary: 'Where a file written like this has dither',
      params: z.object({ id: z.string() }),
      query: soundExportSchema(),
      response: ditherSchema(),
      handle: async ({ params, query: { depth, rate } }) => {
        const { missing, name, sha256, touched } = await sounds.get(params.id);
        if (missing) throw new Problem(404, `The audio of "${name}" is missing on disk.`);
        return workers.dither({ sourcePath: files.pathOf(sha256), depth, rate, touched });
      },
    }),
    route({
      method: 'get',
      path: '/export',
      id: 'exportSounds',
      summary: 'Several sounds as one ZIP file',
      file: { types: ['application/zip'], description: 'The files, by the names that the template makes.' },
      query: soundExportSchema().extend({
        ids: z.string().describe('Ids of sounds, with commas between them.'),
        template: z
          .string()
          .max(200)
          .default('{sound}')
          .describe('Names of the files: {sound}, {source}, {chain}, {version}, {rate} and {number}.'),
      }),
      handle: async ({ query, context }) => {
        const ids = [...new Set(query.ids.split(',').filter(Boolean))];
        if (ids.length === 0 || ids.length > MOST_AT_ONCE)
          throw new InputError(`${ids.length} sounds cannot be written at once; 1 to ${MOST_AT_ONCE} are allowed.`);
        const chosen = await Promise.all(ids.map((id) => sounds.get(id)));
        const missing = chosen.filter((sound) => sound.missing);
        if (missing.length > 0)
          throw new Problem(
            404,
            `The audio of ${missing.map(({ name }) => `"${name}"`).join(', ')} is missing on disk.`,
          );
        const taken = new Set<string>();
        const names = chosen.map((sound, n) => fileNameFor(query.template, sound, n + 1, query.kind, taken));
        // All are written before the first byte is sent, so that a fault is told and no broken file goes out.
        const paths: string[] = [];
        const discard = () => void Promise.all(paths.map((path) => files.discard(path)));
        try {
          for (const sound of chosen) paths.push(await write(sound, query));
        } catch (error) {
          discard();
          throw error;
        }
        const zip = new ZipFile();
        // The files' own dates would make the same export another file each time.
        paths.forEach((path, n) =>
          zip.addFile(path, names[n], { compress: false, mtime: new Date(chosen[n].createdAt) }),
        );
        zip.end();
        context.attachment('hexenkessel-sounds.zip');
        context.type = 'application/zip';
        zip.outputStream.once('close', discard);
        context.body = zip.outputStream;
        return undefined;
      },
    }),
  ];
}
