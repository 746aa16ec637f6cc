/** Documents that are never changed in place: what stays the same is the same object. */
import equal from 'fast-deep-equal';

/** True for values that say the same; what is the same object is not looked into. */
export const sameValue: (a: unknown, b: unknown) => boolean = equal;

/** A list changed entry by entry; the same list where no entry is another one. */
export function mapShared<T>(list: readonly T[], change: (entry: T, index: number) => T): readonly T[] {
  const changed = list.map(change);
  return changed.every((entry, n) => entry === list[n]) ? list : changed;
}

/**
 * A function of things that never change, asked again only where one of them is another one. It remembers one answer for
 * each first thing.
 */
export function remembered<K extends object, Rest extends readonly unknown[], R>(
  work: (key: K, ...rest: Rest) => R,
): (key: K, ...rest: Rest) => R {
  const answers = new WeakMap<K, { readonly rest: Rest; readonly answer: R }>();
  return (key, ...rest) => {
    const known = answers.get(key);
    if (known?.rest.every((value, n) => value === rest[n])) return known.answer;
    const answer = work(key, ...rest);
    answers.set(key, { rest, answer });
    return answer;
  };
}
