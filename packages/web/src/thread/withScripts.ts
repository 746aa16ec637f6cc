/** Work of a thread that reads scripts first, where something in what it is asked brings some. */

type Work = (...args: never[]) => unknown;

let coming: Promise<void> | undefined;
let come = false;

function learn(): Promise<void> {
  return (coming ??= import('@hexenkessel/core/script').then(({ learnScripts }) => {
    learnScripts();
    come = true;
  }));
}

/**
 * The same functions, to be called from another thread. What reads scripts is fetched by the first call that brings one;
 * those behind it wait along, so that they stay in their order.
 */
export function withScripts<T extends Readonly<Record<string, Work>>>(work: T): T {
  const wrapped = Object.entries(work).map(([name, does]) => [
    name,
    (...args: never[]) => {
      if (come || (coming === undefined && !args.some(bringsScripts))) return does(...args);
      return learn().then(() => does(...args));
    },
  ]);
  return Object.fromEntries(wrapped) as T;
}

/** A chain with scripts, a list of some, a stage that is made from one. */
function bringsScripts(asked: unknown): boolean {
  if (typeof asked !== 'object' || asked === null) return false;
  if (Array.isArray(asked)) return asked.some((one) => typeof one === 'object' && one !== null && 'language' in one);
  const { scripts, definition } = asked as { readonly scripts?: unknown; readonly definition?: unknown };
  return definition !== undefined || (Array.isArray(scripts) && scripts.length > 0);
}
