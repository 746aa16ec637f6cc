/** The smallest prime at or above `value`, at least 2. Delay lengths without common factors do not ring together. */
export function primeNear(value: number): number {
  let candidate = Math.max(2, Math.round(value));
  while (!isPrime(candidate)) candidate++;
  return candidate;
}

function isPrime(n: number): boolean {
  for (let d = 2; d * d <= n; d++) if (n % d === 0) return false;
  return true;
}
