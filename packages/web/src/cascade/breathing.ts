/** Long computations in a worker that still hears its messages. */

/** Milliseconds of work between two looks at the messages. */
export const BREATH = 12;

/** Lets waiting messages in. */
const channel = new MessageChannel();
export function breathe(): Promise<void> {
  return new Promise((resolve) => {
    channel.port1.onmessage = () => resolve();
    channel.port2.postMessage(null);
  });
}

/** Drives a computation to its end, letting messages in now and then. */
export async function drive<T>(process: Generator<unknown, T, void>): Promise<T> {
  let breath = performance.now();
  for (;;) {
    const step = process.next();
    if (step.done) return step.value;
    if (performance.now() - breath < BREATH) continue;
    await breathe();
    breath = performance.now();
  }
}
