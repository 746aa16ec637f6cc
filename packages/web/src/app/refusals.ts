/** Why something was refused is told where it was entered, or in a toast when it came from elsewhere. */
import { InputError } from '@hexenkessel/core/model';
import { tellFailure } from './toaster.tsx';

/** The words of refusals, while an entry listens to them. */
let heard: string[] | undefined;

/** Tells why something was not done: to the entry that is being taken, else in a toast. */
export function refuse(title: string, error: InputError): void {
  if (heard) heard.push(error.faults.join(' '));
  else tellFailure(title, error.faults.join(' '));
}

/** Takes an entry at once; gives why it was refused, undefined when it was not. */
export function refusalOf(take: () => unknown): string | undefined {
  const outer = heard;
  const words: string[] = [];
  heard = words;
  try {
    const done = take();
    return done === false && words.length === 0
      ? 'This is not allowed here.'
      : words.length > 0
        ? words.join(' ')
        : undefined;
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    return error.message;
  } finally {
    heard = outer;
  }
}
