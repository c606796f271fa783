/** A logistic model: the log-odds of the outcome are intercept + Σ weight × value. */
export interface LogisticFit {
  intercept: number
  weights: number[]
  /** Did Newton's method come to rest? Without a ridge it does not when the outcome can be told perfectly. */
  converged: boolean
}

const mostRounds = 50
const rest = 1e-9

/** Solves A x = b for a symmetric positive definite A, by Cholesky's decomposition. Null when A is not. */
function solve(a: readonly (readonly number[])[], b: readonly number[]): number[] | null {
  const n = b.length
  const l = a.map(() => new Array<number>(n).fill(0))
  const at = (i: number, j: number): number => l[i]?.[j] ?? 0
  for (let i = 0; i < n; i += 1) {
    for (let j = 0; j <= i; j += 1) {
      let sum = a[i]?.[j] ?? 0
      for (let k = 0; k < j; k += 1) sum -= at(i, k) * at(j, k)
      if (i === j && sum <= 0) return null
      const row = l[i]
      if (row) row[j] = i === j ? Math.sqrt(sum) : sum / at(j, j)
    }
  }
  const y = [...b]
  for (let i = 0; i < n; i += 1) {
    for (let k = 0; k < i; k += 1) y[i] = (y[i] ?? 0) - at(i, k) * (y[k] ?? 0)
    y[i] = (y[i] ?? 0) / at(i, i)
  }
  for (let i = n - 1; i >= 0; i -= 1) {
    for (let k = i + 1; k < n; k += 1) y[i] = (y[i] ?? 0) - at(k, i) * (y[k] ?? 0)
    y[i] = (y[i] ?? 0) / at(i, i)
  }
  return y
}

/**
 * Fits the probability of an outcome to values by maximum likelihood, by Newton's method (iteratively reweighted
 * least squares; McCullagh & Nelder, Generalized Linear Models, 1989, §2.5).
 * @param rows values, one row a person
 * @param ridge penalty of ridge/2 × Σ weight²; the intercept is free. 0 is plain maximum likelihood
 * @throws RangeError when the equations have no single solution; a ridge above 0 always has one
 */
export function fitLogistic(
  rows: readonly (readonly number[])[],
  outcomes: readonly boolean[],
  ridge = 0,
): LogisticFit {
  const width = (rows[0]?.length ?? 0) + 1
  const beta = new Array<number>(width).fill(0)
  let converged = false
  for (let round = 0; round < mostRounds && !converged; round += 1) {
    const gradient = beta.map((weight, j) => (j === 0 ? 0 : -ridge * weight))
    const curvature = beta.map((_, j) => beta.map((__, k) => (j === k && j > 0 ? ridge : 0)))
    rows.forEach((row, i) => {
      const logOdds = row.reduce((sum, value, j) => sum + value * (beta[j + 1] ?? 0), beta[0] ?? 0)
      const p = 1 / (1 + Math.exp(-logOdds))
      const miss = (outcomes[i] ? 1 : 0) - p
      const weight = p * (1 - p)
      for (let j = 0; j < width; j += 1) {
        const x = j === 0 ? 1 : (row[j - 1] ?? 0)
        if (x === 0) continue
        gradient[j] = (gradient[j] ?? 0) + x * miss
        const line = curvature[j]
        if (line)
          for (let k = 0; k <= j; k += 1)
            line[k] = (line[k] ?? 0) + x * weight * (k === 0 ? 1 : (row[k - 1] ?? 0))
      }
    })
    const step = solve(curvature, gradient)
    if (!step) throw new RangeError('the values cannot be told apart from one another, or from the outcome')
    step.forEach((by, j) => (beta[j] = (beta[j] ?? 0) + by))
    converged = Math.max(...step.map(Math.abs)) < rest
  }
  const [intercept = 0, ...weights] = beta
  return { intercept, weights, converged }
}
