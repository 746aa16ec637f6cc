/** Long computations in a worker that still hears its messages. */

/** Milliseconds of work between two looks at the messages. */
export const BREATH = 12;

const channel = new MessageChannel();
channel.port1.start();

/** Lets waiting messages in. Several computations may do so at once: each message lets all of them go on. */
export function breathe(): Promise<void> {
  return new Promise((resolve) => {
    channel.port1.addEventListener('message', () => resolve(), { once: true });
    channel.port2.postMessage(null);
  });
}

/** Drives a computation to its end, letting messages in now and then. */
export async function drive<T>(process: Generator<unknown, T, void>): Promise<T> {
  return (await driveWhile(process, () => true)) as T;
}

/** The same as long as somebody wants it; undefined when it was given up. */
export async function driveWhile<T>(
  process: Generator<unknown, T, void>,
  wanted: () => boolean,
): Promise<T | undefined> {
  let breath = performance.now();
  for (;;) {
    const step = process.next();
    if (step.done) return step.value;
    if (performance.now() - breath < BREATH) continue;
    await breathe();
    if (!wanted()) return undefined;
    breath = performance.now();
  }
}
