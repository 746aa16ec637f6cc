import type { Readable } from 'node:stream';
import { InputError, checkName, type Sound } from '@hexenkessel/core';
import type { AudioWorkers } from '../workers/audioWorkers.ts';
import type { AudioFiles } from './audioFiles.ts';
import type { Sounds } from './sounds.ts';

/** Takes a sound into the store: received, gone through from end to end, measured, and only then kept. */
export class SoundIntake {
  private readonly sounds: Sounds;
  private readonly files: AudioFiles;
  private readonly workers: AudioWorkers;

  constructor(sounds: Sounds, files: AudioFiles, workers: AudioWorkers) {
    this.sounds = sounds;
    this.files = files;
    this.workers = workers;
  }

  /** InputError when the name or the sound is not allowed; nothing is kept then. `signal`: which test signal it is. */
  async take(name: string, bytes: Readable, signal: string | null = null): Promise<Sound> {
    const checked = checkName(name);
    const received = await this.files.receive(bytes);
    try {
      if (received.size === 0) throw new InputError('The file is empty; a WAV file is needed.');
      const known = await this.sounds.find(received.sha256, checked);
      if (known && signal === null) return known;
      const measured = await this.workers.inspect(received.path);
      await this.files.keep(received.path, received.sha256);
      const id = await this.sounds.add({
        name: checked,
        kind: 'source',
        signal,
        sha256: received.sha256,
        bytes: received.size,
        originFrames: 0,
        ...measured,
      });
      return await this.sounds.get(id);
    } finally {
      await this.files.discard(received.path);
    }
  }
}
