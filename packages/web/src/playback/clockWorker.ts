/** Keeps a clock in shared memory, in microseconds, for the audio thread, which has none. Wakes a thousand times a second: what a stage costs is a mean over many blocks, so that is fine enough. */
const TICK = 1; // millisecond

addEventListener('message', (event: MessageEvent<SharedArrayBuffer>) => {
  const clock = new Int32Array(event.data);
  const pause = new Int32Array(new SharedArrayBuffer(4));
  for (;;) {
    Atomics.store(clock, 0, (performance.now() * 1000) | 0);
    // Anything but 0 in the second place ends it.
    if (Atomics.load(clock, 1) !== 0) break;
    Atomics.wait(pause, 0, 0, TICK);
  }
  close();
});
