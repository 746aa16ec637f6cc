import type { Readable } from 'node:stream';
import { InputError } from '@hexenkessel/core/model';
import { checkName } from '@hexenkessel/core/chain';
import type { Sound, TakenSound } from '@hexenkessel/core/protocol';
import type { TakeProcesses } from '../workers/takeProcesses.ts';
import type { AudioFiles } from './audioFiles.ts';
import type { Sounds } from './sounds.ts';

interface Intake {
  /** Which test signal it is. */
  readonly signal?: string | null;
  /** Which channels of the file are taken, from 0. */
  readonly channels?: readonly number[] | undefined;
  /** Another sample rate. */
  readonly rate?: number | undefined;
}

/** Takes a sound into the store: received, gone through from end to end, measured, and only then kept. */
export class SoundIntake {
  private readonly sounds: Sounds;
  private readonly files: AudioFiles;
  private readonly processes: TakeProcesses;

  constructor(sounds: Sounds, files: AudioFiles, processes: TakeProcesses) {
    this.sounds = sounds;
    this.files = files;
    this.processes = processes;
  }

  /** InputError when the name or the sound is not allowed; nothing is kept then. */
  async take(name: string, bytes: Readable, { signal = null, channels, rate }: Intake = {}): Promise<TakenSound> {
    const checked = checkName(name);
    const received = await this.files.receive(bytes);
    const decodedPath = this.files.temporaryPath();
    try {
      if (received.size === 0) throw new InputError('The file is empty; a sound file is needed.');
      const asItIs = channels === undefined && rate === undefined;
      const known = asItIs ? await this.sounds.find(received.sha256, checked) : undefined;
      if (known && !known.missing && signal === null) return known;
      const { written, warning, ...taken } = await this.processes.take({
        path: received.path,
        outputPath: decodedPath,
        channels,
        rate,
      });
      const told = warning === undefined ? {} : { warning };
      const kept = written ?? { sha256: received.sha256, bytes: received.size };
      await this.files.keep(written ? decodedPath : received.path, kept.sha256);
      const same = await this.sounds.find(kept.sha256, checked);
      if (same && signal === null) return { ...same, ...told };
      const id = await this.sounds.add({
        name: checked,
        kind: 'source',
        signal,
        originFrames: 0,
        touched: null,
        ...kept,
        ...taken,
      });
      return { ...(await this.sounds.get(id)), ...told };
    } finally {
      await this.files.discard(received.path);
      await this.files.discard(decodedPath);
    }
  }

  /** Puts audio that is missing on disk back. InputError when the file is another one. */
  async relink(id: string, bytes: Readable): Promise<Sound> {
    const sound = await this.sounds.get(id);
    const received = await this.files.receive(bytes);
    const decodedPath = this.files.temporaryPath();
    try {
      let path = received.path;
      let { sha256 } = received;
      if (sha256 !== sound.sha256 && sound.sourceFormat !== 'wav') {
        // What was decoded when it came in is decoded again.
        const { written } = await this.processes.take({
          path: received.path,
          outputPath: decodedPath,
          channels: undefined,
          rate: sound.sampleRate,
        });
        if (written) [path, sha256] = [decodedPath, written.sha256];
      }
      if (sha256 !== sound.sha256)
        throw new InputError(
          `This file is not "${sound.name}": its SHA-256 is ${sha256.slice(0, 12)}…, needed is ${sound.sha256.slice(0, 12)}….`,
        );
      await this.files.keep(path, sha256);
      return await this.sounds.get(id);
    } finally {
      await this.files.discard(received.path);
      await this.files.discard(decodedPath);
    }
  }
}
