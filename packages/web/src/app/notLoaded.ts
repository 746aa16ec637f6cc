/** The code of a view did not come: the server is away, or has another version by now. */
export class NotLoaded extends Error {
  constructor(cause: unknown) {
    super('The server does not answer, or has been brought up to date since this page was opened.', { cause });
  }
}
