import { Command, Option } from 'commander';
import { BEYONDS, REGION_TIMES, SPLICE_TAILS } from '@hexenkessel/core/chain';
import { RESAMPLER } from '@hexenkessel/core/engine';
import { WAV_DEPTHS } from '@hexenkessel/core/formats';
import { FORMS, type RenderOptions } from './render/renderOptions.ts';

const EXAMPLES = `
Examples:
  $ hexenkessel render --chain tide.hxk.json --in take.wav --out take-tide.wav --set hall.decay=4beats --tempo 93
  $ hexenkessel render --chain stop.hxk.json --in mix.mp3 --out mix-stop.flac --from 3beats --to 4beats --splice
  $ hexenkessel render --chain tide.hxk.json --in takes/*.wav --out wet/ --format flac
  $ hexenkessel render --script repeat.hxk.js --set time=1/4 --in take.wav --out take-repeat.wav
  $ ffmpeg -i clip.mp4 -f wav - | hexenkessel render --chain tide.hxk.json --in - --out - | aplay`;

export function renderCommand(): Command {
  return new Command('render')
    .description('Renders sounds, or a region of one, through a chain into new WAV or FLAC files.')
    .option('--chain <file>', 'chain file (.hxk.json); - reads it from standard input')
    .option('--script <file>', 'instead of a chain: a script (.hxk.js), whose settings are set as --set time=1/4')
    .requiredOption('--in <files...>', 'sounds to read: WAV, AIFF, FLAC, Ogg Vorbis, Opus or MP3; - is standard input')
    .requiredOption(
      '--out <place>',
      'file to write: .wav, or .flac with 16 or 24 bits; a folder, named with / at its end; - is standard output',
    )
    .addOption(
      new Option('--format <form>', 'what is written into a folder or to standard output; else wav').choices(FORMS),
    )
    .option('--tempo <bpm>', 'tempo instead of the chain’s own; “sound” finds it in the sound')
    .option('--tempo-map <file>', 'MIDI file whose tempo and meter count; what is tempo-synced follows its changes')
    .option('--set <stage.parameter=value>', 'changes one setting; can be given several times', collect)
    .option('--sound <name=file>', 'a sound that the chain names and its file; can be given several times', collect)
    .option('--tail <length>', 'tail instead of the chain’s own: 4beats, 2s, auto or none')
    .addOption(new Option('--anchor <place>', 'where the result is placed').choices(['source', 'start', 'end']))
    .addOption(new Option('--depth <bits>', 'sample format').choices(WAV_DEPTHS).default('24'))
    .option('--seed <number>', 'random seed')
    .option('--rate <hertz>', `sample rate of the result (${RESAMPLER})`)
    .option('--channels <numbers>', 'which channels of the file are taken: 3, or 1,2')
    .option('--from <time>', 'renders a region of the sound only, from here: 2bars, 4beats, 1.5s')
    .option('--to <time>', 'end of the region')
    .addOption(new Option('--beyond <what>', 'what follows the region; else as the chain says').choices(BEYONDS))
    .addOption(
      new Option(
        '--region-time <whose>',
        'what lanes and modulators count from: region start or sound start; else as the chain says',
      ).choices(REGION_TIMES),
    )
    .option('--splice', 'puts the rendered region back into a copy of the whole sound')
    .option('--fade <time>', 'crossfade at both ends of the region; else as the chain says')
    .addOption(
      new Option('--splice-tail <what>', 'splice tails: overlap or cut; else as the chain says').choices(SPLICE_TAILS),
    )
    .option('--json', 'says what was written as JSON, one object a file')
    .addHelpText('after', EXAMPLES)
    .action(async (options: RenderOptions) => (await import('./render/renderFiles.ts')).renderFiles(options));
}

const collect = (value: string, before: readonly string[] = []) => [...before, value];
