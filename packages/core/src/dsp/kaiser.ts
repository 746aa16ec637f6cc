/** Modified Bessel function of the first kind, order zero. */
function besselI0(x: number): number {
  let sum = 1;
  let term = 1;
  for (let n = 1; n < 40; n++) {
    term *= (x * x) / (4 * n * n);
    sum += term;
  }
  return sum;
}

/** Kaiser's window at a distance of −1…1 from its middle (J. F. Kaiser, 1974). A larger `beta` is wider and cleaner. */
export function kaiser(place: number, beta: number): number {
  return besselI0(beta * Math.sqrt(Math.max(0, 1 - place * place))) / besselI0(beta);
}
