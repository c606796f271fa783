/** The share of a normal distribution below a value. */
export function normalShare(value: number): number {
  return 0.5 * errorComplement(-value / Math.SQRT2)
}

/**
 * The complementary error function, by a rational Chebyshev fit with a relative error below 1.2e-7 everywhere
 * (Press et al., Numerical Recipes, 2nd ed., §6.2, from memory).
 */
function errorComplement(x: number): number {
  const z = Math.abs(x)
  const t = 1 / (1 + 0.5 * z)
  const fit = [
    -1.26551223, 1.00002368, 0.37409196, 0.09678418, -0.18628806, 0.27886807, -1.13520398, 1.48851587,
    -0.82215223, 0.17087277,
  ]
  const series = fit.reduceRight((sum, each) => sum * t + each, 0)
  const value = t * Math.exp(-z * z + series)
  return x >= 0 ? value : 2 - value
}

/** The value below which a share of a normal distribution lies, by bisection. @param share above 0 and below 1 */
export function normalQuantile(share: number): number {
  let [low, high] = [-10, 10]
  for (let i = 0; i < 80; i += 1) {
    const middle = (low + high) / 2
    if (normalShare(middle) < share) low = middle
    else high = middle
  }
  return (low + high) / 2
}
