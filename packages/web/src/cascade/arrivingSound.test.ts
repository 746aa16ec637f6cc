import { expect, test } from 'vitest';
import { outlineOf } from '@hexenkessel/core/analysis';
import { ClipReader } from '@hexenkessel/core/formats';
import { InputError, type Clip } from '@hexenkessel/core/model';
import { ArrivingSound } from './arrivingSound.ts';

const FRAMES = 200_000;
const CLIP: Clip = {
  sampleRate: 44100,
  origin: 0,
  channels: [1, 0.5].map((gain) => Float32Array.from({ length: FRAMES }, (_, i) => gain * Math.sin(i / 50))),
};

/** A sound of which each piece is let through by the test. */
class Gate extends ClipReader {
  private readonly open: (() => void)[] = [];
  fault: Error | undefined;
  constructor() {
    super(CLIP, 'f32');
  }
  override async read(from: number, count: number): Promise<Float32Array[]> {
    await new Promise<void>((go) => this.open.push(go));
    if (this.fault) throw this.fault;
    return super.read(from, count);
  }
  async next(): Promise<void> {
    this.open.shift()?.();
    for (let n = 0; n < 10; n++) await Promise.resolve();
  }
}

test('what has arrived is there, the rest is silent, and both are drawn so; then it is the sound', async () => {
  const gate = new Gate();
  const sound = new ArrivingSound(gate);
  let pieces = 0;
  sound.onPiece = () => void pieces++;
  const reached: number[] = [];
  for (const frame of [0, 70_000, FRAMES + 50_000]) void sound.until(frame).then(() => reached.push(frame));
  await gate.next();
  expect([sound.arrived, pieces, reached]).toEqual([65536, 1, [0]]);
  expect(sound.clip.channels[1].subarray(0, 65536)).toEqual(CLIP.channels[1].subarray(0, 65536));
  expect(sound.clip.channels[0].subarray(65536).every((sample) => sample === 0)).toBe(true);
  const { overview, end } = sound.outline;
  expect(end).toBe(FRAMES);
  const there = Math.floor(65536 / overview.framesPerColumn);
  expect(Math.max(...overview.max.subarray(0, there))).toBeCloseTo(1, 2);
  expect(Math.max(...overview.max.subarray(there + 1))).toBe(0);
  await gate.next();
  expect(reached).toEqual([0, 70_000]);
  await gate.next();
  await gate.next();
  expect((await sound.whole).channels).toEqual(CLIP.channels);
  expect(sound.outline.overview.max).toEqual(outlineOf(CLIP).overview.max);
  await sound.until(FRAMES);
  expect(reached).toEqual([0, 70_000, FRAMES + 50_000]);
});

test('what cannot be read on is told to all who wait', async () => {
  const gate = new Gate();
  const sound = new ArrivingSound(gate);
  const waiting = sound.until(FRAMES);
  const told = [expect(waiting).rejects.toThrow('cut off'), expect(sound.whole).rejects.toThrow(InputError)];
  await gate.next();
  gate.fault = new InputError('cut off');
  await gate.next();
  await Promise.all(told);
});
