import { Command } from 'commander';
import { frameCount, measureClip, showLevel, showSeconds, showTimeOfDay, timeReferenceOf } from '@hexenkessel/core';
import { withWavFile } from './files.ts';

export function measureCommand(): Command {
  return new Command('measure')
    .description('Measures a WAV file: length, peak, true peak, loudness, place.')
    .requiredOption('--in <file>', 'WAV file to read')
    .option('--json', 'prints one object', false)
    .action((options: { in: string; json: boolean }) =>
      withWavFile(options.in, async (reader) => {
        const clip = await reader.readClip();
        const { header } = reader;
        const measures = measureClip(clip);
        if (options.json) {
          console.log(
            JSON.stringify({
              file: options.in,
              frames: frameCount(clip),
              sampleRate: clip.sampleRate,
              channels: clip.channels.length,
              format: header.format,
              timeReference: header.timeReference ?? null,
              ...measures,
            }),
          );
          return;
        }
        const place = timeReferenceOf(header.timeReference, clip.sampleRate);
        console.log(`length     ${showSeconds(frameCount(clip) / clip.sampleRate)} (${frameCount(clip)} frames)`);
        console.log(`format     ${clip.channels.length} × ${header.format}, ${clip.sampleRate} Hz`);
        console.log(`peak       ${showLevel(measures.peak)}FS`);
        console.log(`true peak  ${showLevel(measures.truePeak)}TP`);
        console.log(
          `loudness   ${Number.isFinite(measures.loudness) ? `${measures.loudness.toFixed(1)} LUFS` : 'silent'}`,
        );
        console.log(
          `place      ${showTimeOfDay(place, clip.sampleRate)}${header.timeReference === undefined ? ' (assumed: the file says none)' : ''}`,
        );
      }),
    );
}
