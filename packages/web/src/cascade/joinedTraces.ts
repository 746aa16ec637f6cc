import type { MovementTrace } from '@hexenkessel/core/engine';

/** Two traces as one, on the ruler of the first. */
export function joinedTraces(first: MovementTrace, second: MovementTrace): MovementTrace {
  const count = Object.values(first.modulators)[0]?.length ?? Object.values(second.modulators)[0]?.length ?? 0;
  const fit = (values: Readonly<Record<string, Float32Array>>) =>
    Object.fromEntries(
      Object.entries(values).map(([key, from]) => [
        key,
        Float32Array.from({ length: count }, (_, n) => {
          const at = Math.round((first.origin + n * first.step - second.origin) / second.step);
          return from[Math.max(0, Math.min(from.length - 1, at))];
        }),
      ]),
    );
  return {
    ...first,
    modulators: { ...fit(second.modulators), ...first.modulators },
    targets: { ...fit(second.targets), ...first.targets },
  };
}
