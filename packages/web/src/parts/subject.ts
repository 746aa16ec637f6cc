/** State that lives outside React: read by anybody, changed by who holds it, told to who listens. */
export class Subject<T> {
  private now: T;
  private readonly listeners = new Set<() => void>();

  constructor(first: T) {
    this.now = first;
  }

  get state(): T {
    return this.now;
  }

  /** Calls back after every change, until what it gives is called. */
  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  protected set(next: T): void {
    if (next === this.now) return;
    this.now = next;
    for (const listener of [...this.listeners]) listener();
  }
}
