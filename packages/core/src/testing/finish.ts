/** What comes of work that yields on its way; `seen` gets what it yields. */
export function finish<Seen, Made>(work: Generator<Seen, Made, void>, seen?: (value: Seen) => void): Made {
  for (;;) {
    const { done, value } = work.next();
    if (done) return value;
    seen?.(value);
  }
}
