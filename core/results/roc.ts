/**
 * Area under the ROC curve: how often a random person who did it had the higher score than a random one who did
 * not, ties counting half. 0.5 is a coin, 1 a perfect order.
 * Source: Hanley & McNeil, Radiology 143 (1982) 29–36: the Wilcoxon statistic.
 * @returns the area, or null when one of the groups is empty
 */
export function areaUnderRoc(scores: readonly number[], outcomes: readonly boolean[]): number | null {
  const order = scores
    .map((score, i) => ({ score, did: outcomes[i] === true }))
    .sort((a, b) => a.score - b.score)
  const positives = order.filter(({ did }) => did).length
  const negatives = order.length - positives
  if (positives === 0 || negatives === 0) return null
  // Sum of the ranks of those who did, ties sharing the mean rank.
  let ranks = 0
  for (let from = 0; from < order.length;) {
    let to = from
    while (to < order.length && order[to]?.score === order[from]?.score) to += 1
    const meanRank = (from + 1 + to) / 2
    for (let i = from; i < to; i += 1) if (order[i]?.did) ranks += meanRank
    from = to
  }
  return (ranks - (positives * (positives + 1)) / 2) / (positives * negatives)
}
