import { Command } from 'commander';
import { frameCount, showLevel, showLoudness, showSeconds } from '@hexenkessel/core/model';
import { measureClip } from '@hexenkessel/core/analysis';
import { showTimeOfDay, timeReferenceOf } from '@hexenkessel/core/formats';
import { withSoundFile } from './files.ts';

export function measureCommand(): Command {
  return new Command('measure')
    .description('Measures a sound file: length, peak, true peak, loudness, time reference.')
    .requiredOption('--in <file>', 'sound to read: WAV, AIFF, FLAC, Ogg Vorbis, Opus or MP3; - is standard input')
    .option('--json', 'prints JSON')
    .addHelpText(
      'after',
      '\nExamples:\n  $ hexenkessel measure --in take.wav\n  $ hexenkessel measure --in - --json < take.wav',
    )
    .action((options: { in: string; json?: boolean }) =>
      withSoundFile(options.in, async (reader) => {
        const clip = await reader.readClip();
        const measures = measureClip(clip);
        if (options.json) {
          console.log(
            JSON.stringify({
              file: options.in,
              frames: frameCount(clip),
              sampleRate: clip.sampleRate,
              channels: clip.channels.length,
              format: reader.format,
              timeReference: reader.timeReference ?? null,
              ...measures,
            }),
          );
          return;
        }
        const place = timeReferenceOf(reader.timeReference, clip.sampleRate);
        console.log(
          `length               ${showSeconds(frameCount(clip) / clip.sampleRate)} (${frameCount(clip)} samples)`,
        );
        console.log(`format               ${clip.channels.length} × ${reader.format}, ${clip.sampleRate} Hz`);
        console.log(`sample peak          ${showLevel(measures.peak)}FS`);
        console.log(`true peak            ${showLevel(measures.truePeak)}TP`);
        console.log(`integrated loudness  ${showLoudness(measures.loudness)}`);
        console.log(
          `time reference       ${showTimeOfDay(place, clip.sampleRate)}${reader.timeReference === undefined ? ' (assumed: not in the file)' : ''}`,
        );
      }),
    );
}
