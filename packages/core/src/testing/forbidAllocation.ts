/**
 * Runs `work` while everything that would take memory, walk an iterator or log is made to throw: constructors of arrays,
 * the methods that give new ones, iterators. Literals and closures are seen by lint. For tests.
 */
export function forbidAllocation(work: () => void): void {
  const undo: (() => void)[] = [];
  const restore = () => {
    while (undo.length > 0) undo.pop()?.();
  };
  const replace = (holder: object, key: PropertyKey, what: string) => {
    const own = Object.getOwnPropertyDescriptor(holder, key);
    if (!own) return;
    const refuse = function () {
      restore(); // an error's own making needs what is forbidden
      throw new Error(`${what} is called in the audio thread`);
    };
    Object.defineProperty(holder, key, { ...own, value: refuse });
    undo.push(() => void Object.defineProperty(holder, key, own));
  };
  const targets = forbidden();
  for (let n = 0; n < targets.length; n++) replace(targets[n].holder, targets[n].key, targets[n].what);
  try {
    work();
  } finally {
    restore();
  }
}

interface Target {
  readonly holder: object;
  readonly key: PropertyKey;
  readonly what: string;
}

function forbidden(): Target[] {
  const typed = Object.getPrototypeOf(Float32Array.prototype) as object;
  const all = (holder: object, names: string, title: (name: string) => string): Target[] =>
    names.split(' ').map((name) => ({ holder, key: name, what: title(name) }));
  const methods = 'map filter slice subarray concat flatMap forEach reduce entries keys values toSpliced';
  return [
    ...all(Array.prototype, methods, (name) => `Array.${name}`),
    ...all(typed, methods, (name) => `a typed array's ${name}`),
    ...all(globalThis, 'Float32Array Float64Array Int32Array Uint32Array ArrayBuffer Map Set', (name) => `new ${name}`),
    ...all(Object, 'entries keys values assign fromEntries', (name) => `Object.${name}`),
    ...all(JSON, 'stringify parse', (name) => `JSON.${name}`),
    ...all(console, 'log warn error debug', (name) => `console.${name}`),
    ...[Array.prototype, typed, Map.prototype, Set.prototype].map((holder) => ({
      holder,
      key: Symbol.iterator,
      what: 'an iterator',
    })),
  ];
}
