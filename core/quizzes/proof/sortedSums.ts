/** Sums that can come about, in rising order, each with its chance. Several sums that belong together are one number. */
export interface SortedSums {
  keys: Float64Array
  chances: Float64Array
}

export const onlySum = (key: number, chance = 1): SortedSums => ({
  keys: Float64Array.of(key),
  chances: Float64Array.of(chance),
})

/** The same sums after an answer: all of them move alike, so that their order stays. */
export function shifted({ keys, chances }: SortedSums, by: number, chance: number): SortedSums {
  const moved = { keys: new Float64Array(keys.length), chances: new Float64Array(keys.length) }
  for (let i = 0; i < keys.length; i += 1) {
    moved.keys[i] = (keys[i] as number) + by
    moved.chances[i] = (chances[i] as number) * chance
  }
  return moved
}

function merged(a: SortedSums, b: SortedSums): SortedSums {
  const most = a.keys.length + b.keys.length
  const keys = new Float64Array(most)
  const chances = new Float64Array(most)
  let i = 0
  let j = 0
  let n = 0
  while (i < a.keys.length && j < b.keys.length) {
    const left = a.keys[i] as number
    const right = b.keys[j] as number
    if (left < right) {
      keys[n] = left
      chances[n++] = a.chances[i++] as number
    } else if (right < left) {
      keys[n] = right
      chances[n++] = b.chances[j++] as number
    } else {
      keys[n] = left
      chances[n++] = (a.chances[i++] as number) + (b.chances[j++] as number)
    }
  }
  for (; i < a.keys.length; n += 1) {
    keys[n] = a.keys[i] as number
    chances[n] = a.chances[i++] as number
  }
  for (; j < b.keys.length; n += 1) {
    keys[n] = b.keys[j] as number
    chances[n] = b.chances[j++] as number
  }
  return { keys: keys.subarray(0, n), chances: chances.subarray(0, n) }
}

/** All sums of several lists. @throws RangeError without any */
export function mergedAll(lists: readonly SortedSums[]): SortedSums {
  if (lists.length < 2) {
    const [only] = lists
    if (!only) throw new RangeError('nothing to merge')
    return only
  }
  const half = lists.length >> 1
  return merged(mergedAll(lists.slice(0, half)), mergedAll(lists.slice(half)))
}

/** Where a key stands that is among them. */
function placeOf(keys: Float64Array, key: number): number {
  let low = 0
  let high = keys.length - 1
  while (low < high) {
    const middle = (low + high) >> 1
    if ((keys[middle] as number) < key) low = middle + 1
    else high = middle
  }
  return low
}

/** Sums in any order, put into theirs. */
export function sorted(given: SortedSums): SortedSums {
  const keys = given.keys.slice().sort()
  let n = 0
  for (let i = 0; i < keys.length; i += 1)
    if (i === 0 || keys[i] !== keys[n - 1]) {
      keys[n] = keys[i] as number
      n += 1
    }
  const distinct = keys.subarray(0, n)
  const chances = new Float64Array(n)
  for (let i = 0; i < given.keys.length; i += 1) {
    const at = placeOf(distinct, given.keys[i] as number)
    chances[at] = (chances[at] as number) + (given.chances[i] as number)
  }
  return { keys: distinct, chances }
}

/** Those that are at least so likely. @returns what was left out in all, too */
export function likelier({ keys, chances }: SortedSums, least: number): [SortedSums, number] {
  const kept = { keys: new Float64Array(keys.length), chances: new Float64Array(keys.length) }
  let n = 0
  let left = 0
  for (let i = 0; i < keys.length; i += 1) {
    const chance = chances[i] as number
    if (chance < least) left += chance
    else {
      kept.keys[n] = keys[i] as number
      kept.chances[n++] = chance
    }
  }
  return [{ keys: kept.keys.subarray(0, n), chances: kept.chances.subarray(0, n) }, left]
}
