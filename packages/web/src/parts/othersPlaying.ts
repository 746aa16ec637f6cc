/** One thing sounds at a time: what plays sounds by themselves says how it is stopped by what plays otherwise. */

let stop: () => void = () => undefined;

export function stoppedBy(how: () => void): void {
  stop = how;
}

export const stopOthers = (): void => stop();
