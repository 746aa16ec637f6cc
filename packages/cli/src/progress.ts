import { stderr } from 'node:process';

/** Tells how far a work has come, 0…1. */
export type Tell = (done: number) => void;

/** Does a work and shows on a terminal how far it has come; elsewhere nothing is printed of it. */
export async function withProgress<T>(name: string, work: (tell: Tell) => Promise<T>): Promise<T> {
  if (!stderr.isTTY) return work(() => undefined);
  const { default: progress } = await import('cli-progress');
  const bar = new progress.SingleBar({
    stream: stderr,
    format: `${name} {bar} {percentage} %, {eta_formatted} left`,
    hideCursor: true,
    clearOnComplete: true,
  });
  bar.start(1000, 0);
  try {
    return await work((done) => bar.update(Math.round(1000 * done)));
  } finally {
    bar.stop();
  }
}
