/** Hears what the page plays: a second audio worklet, tied to the engine's output, that notes every block down. */
import type { Page } from '@playwright/test';

const MODULE = `
  registerProcessor('test-recorder', class extends AudioWorkletProcessor {
    process([input]) {
      if (input.length) this.port.postMessage(input.map((side) => side.slice()));
      return true;
    }
  });`;

interface Recording {
  recorded: Float32Array[][];
  recorderReady: boolean;
}

/** To be called before the page is opened, in a context that bypasses the CSP: the recorder is no file of the application. */
export async function installRecorder(page: Page): Promise<void> {
  await page.addInitScript((module) => {
    const seen = window as unknown as Recording;
    seen.recorded = [];
    seen.recorderReady = false;
    const connect = AudioNode.prototype.connect;
    AudioNode.prototype.connect = function (this: AudioNode, to: AudioNode) {
      const { context } = this;
      if (this instanceof AudioWorkletNode && to === context.destination) {
        void context.audioWorklet
          .addModule(URL.createObjectURL(new Blob([module], { type: 'text/javascript' })))
          .then(() => {
            const recorder = new AudioWorkletNode(context, 'test-recorder', { numberOfOutputs: 0 });
            recorder.port.onmessage = (event: MessageEvent<Float32Array[]>) => seen.recorded.push(event.data);
            (connect as (this: AudioNode, to: AudioNode) => AudioNode).call(this, recorder);
            seen.recorderReady = true;
          });
      }
      return (connect as (this: AudioNode, to: AudioNode) => AudioNode).call(this, to);
    } as typeof connect;
  }, MODULE);
}

/** Forgets what was heard so far. */
export async function clearRecording(page: Page): Promise<void> {
  await page.waitForFunction(() => (window as unknown as Recording).recorderReady);
  await page.evaluate(() => void ((window as unknown as Recording).recorded = []));
}

/** Waits until what was played has faded out: a second of silence in the audio thread's own time, longer than any gap in a sound. */
export async function fallenSilent(page: Page): Promise<void> {
  await page.waitForFunction(() => {
    const last = (window as unknown as Recording).recorded.slice(-375);
    return last.length === 375 && last.every((block) => block.every((side) => side.every((sample) => sample === 0)));
  });
}

/** Waits until as many seconds have gone by in the audio thread since the recording was cleared, sounding or not. */
export async function listened(page: Page, seconds: number, sampleRate = 48_000): Promise<void> {
  await page.waitForFunction(
    (wanted) => (window as unknown as Recording).recorded.length * 128 >= wanted,
    seconds * sampleRate,
  );
}

/** What is heard over so many seconds, once a change made just now has had `settling` seconds. */
export async function heardAfter(page: Page, settling: number, seconds: number): Promise<Float32Array[]> {
  await clearRecording(page);
  await listened(page, settling);
  await clearRecording(page);
  await listened(page, seconds);
  return recording(page);
}

/** Waits until as many frames have been heard since the first that was no silence. */
export async function heardFor(page: Page, frames: number): Promise<void> {
  await page.waitForFunction((wanted) => {
    const blocks = (window as unknown as Recording).recorded;
    const first = blocks.findIndex((block) => block.some((side) => side.some((sample) => sample !== 0)));
    return first >= 0 && (blocks.length - first) * 128 >= wanted;
  }, frames);
}

/** What was heard since, one array a side. */
export async function recording(page: Page): Promise<Float32Array[]> {
  const bytes = await page.evaluate(() => {
    const blocks = (window as unknown as Recording).recorded;
    return [0, 1].map((side) => {
      const whole = new Float32Array(blocks.length * 128);
      blocks.forEach((block, n) => whole.set(block[Math.min(side, block.length - 1)], n * 128));
      let text = '';
      const raw = new Uint8Array(whole.buffer);
      for (let at = 0; at < raw.length; at += 8192) text += String.fromCharCode(...raw.subarray(at, at + 8192));
      return btoa(text);
    });
  });
  return bytes.map((text) => {
    const raw = Buffer.from(text, 'base64');
    return new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length));
  });
}

/** Root mean square of [from, to) in dB. */
export function rms(samples: Float32Array, from = 0, to = samples.length): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += samples[i] * samples[i];
  return 10 * Math.log10(sum / Math.max(1, to - from));
}
