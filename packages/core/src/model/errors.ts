/** What was handed in, as it stands in a message: its beginning, where it is long. */
export function shortened(text: string): string {
  return text.length > 60 ? `${text.slice(0, 60)}…` : text;
}

/**
 * What a user handed in is wrong. The message says what is wrong and what is allowed, in words meant for the user;
 * every edge (page, API, command line) shows it as it is. `field` names the place, e.g. `stages.hall.decay`.
 */
export class InputError extends Error {
  override readonly name = 'InputError';
  readonly field: string | undefined;
  readonly faults: readonly string[];

  constructor(message: string, details: { field?: string; faults?: readonly string[] } = {}) {
    super(message);
    this.field = details.field;
    this.faults = details.faults ?? [message];
  }
}
