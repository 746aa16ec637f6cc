import { InputError } from '@hexenkessel/core/model';
import { checkName } from '@hexenkessel/core/chain';
import { layOut } from '@hexenkessel/core/engine';
import { NO_MARKS } from '@hexenkessel/core/formats';
import type { MixOrder, Sound } from '@hexenkessel/core/protocol';
import type { AudioWorkers } from '../workers/audioWorkers.ts';
import type { AudioFiles } from './audioFiles.ts';
import type { Sounds } from './sounds.ts';

/** Mixes sounds into one that is kept, at the highest rate among them. */
export class Mixing {
  private readonly sounds: Sounds;
  private readonly files: AudioFiles;
  private readonly workers: AudioWorkers;

  constructor(sounds: Sounds, files: AudioFiles, workers: AudioWorkers) {
    this.sounds = sounds;
    this.files = files;
    this.workers = workers;
  }

  /** InputError when it cannot be mixed, problem 404 for a sound that is not there; nothing is kept then. */
  async mix({ name, lay, parts }: MixOrder): Promise<Sound> {
    const checked = checkName(name);
    const sounds = await Promise.all(parts.map(({ soundId }) => this.sounds.get(soundId)));
    const lost = sounds.filter(({ missing }) => missing).map((sound) => `"${sound.name}"`);
    if (lost.length > 0)
      throw new InputError(`The audio of ${lost.join(', ')} is missing on disk; put it back, or leave it out.`);
    if (parts.every(({ muted }) => muted)) throw new InputError('All sounds are muted; at least one must be heard.');
    const sampleRate = Math.max(...sounds.map((sound) => sound.sampleRate));
    const { at, timeReference } = layOut(
      sounds.map((sound, n) => ({ ...sound, offset: parts[n].offset })),
      lay,
      sampleRate,
    );
    const outputPath = this.files.temporaryPath();
    try {
      const { sha256, bytes, ...measured } = await this.workers.mix({
        outputPath,
        sampleRate,
        timeReference,
        parts: parts.map(({ level, muted }, n) => ({
          path: this.files.pathOf(sounds[n].sha256),
          at: at[n],
          gain: muted ? 0 : 10 ** (level / 20),
        })),
      });
      await this.files.keep(outputPath, sha256);
      const whatItIs = { name: checked, kind: 'source', signal: null, sourceFormat: 'wav' } as const;
      const whereItIs = { originFrames: 0, touched: null, marks: NO_MARKS, sha256, bytes };
      return await this.sounds.get(
        await this.sounds.addMix({ ...whatItIs, ...whereItIs, ...measured }, { lay, parts }),
      );
    } finally {
      await this.files.discard(outputPath);
    }
  }
}
