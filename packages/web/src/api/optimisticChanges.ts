/** Changes on their way to the server, laid over what it says until it is sure to say them itself. */
interface Kept<C> {
  readonly id: string;
  readonly change: C;
  answered: boolean;
}

/**
 * A list that was asked for before a change was answered may come without it, and the next change would then be built on
 * what was before. So a change is kept until a list has come that was asked for after its answer.
 */
export class OptimisticChanges<T extends { readonly id: string }, C extends object> {
  private kept: Kept<C>[] = [];

  /** Notes a change; call what comes back with whether the server has taken it. */
  begin(id: string, change: C): (taken: boolean) => void {
    const one: Kept<C> = { id, change, answered: false };
    this.kept.push(one);
    return (taken) => {
      if (taken) one.answered = true;
      else this.kept = this.kept.filter((other) => other !== one);
    };
  }

  /** What there is of these ids is asked for; call what comes back when it has come. */
  asked(ids: readonly string[]): () => void {
    const known = this.kept.filter(({ answered, id }) => answered && ids.includes(id));
    return () => {
      this.kept = this.kept.filter((one) => !known.includes(one));
    };
  }

  /** What the server said, with the changes over it. */
  over(list: readonly T[]): T[] {
    return list.map((entry) =>
      this.kept.reduce((changed, { id, change }) => (id === entry.id ? { ...changed, ...change } : changed), entry),
    );
  }
}
