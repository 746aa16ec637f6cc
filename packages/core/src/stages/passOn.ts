/** What is left of a stage whose sound is not there: it passes on what comes in. */
export class PassOn {
  readonly memoryFrames = 0;

  reset(): void {}

  process(input: readonly Float32Array[], output: readonly Float32Array[], frames: number): void {
    for (let c = 0; c < output.length; c++) {
      const from = input[c < input.length ? c : 0];
      const out = output[c];
      for (let i = 0; i < frames; i++) out[i] = from[i];
    }
  }
}
