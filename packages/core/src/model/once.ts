/**
 * What is made when it is first asked for, and kept: so that nothing is made when a module is merely imported.
 *
 * @__NO_SIDE_EFFECTS__
 */
export function once<T>(make: () => T): () => T {
  let made: { readonly value: T } | undefined;
  return () => (made ??= { value: make() }).value;
}
