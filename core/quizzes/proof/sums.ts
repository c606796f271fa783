const smallest = 16

/** Spreads keys, which are whole and below 2^53, over the slots: neighbours come far apart. */
const spread = (key: number): number => {
  const mixed = Math.imul(key | 0, 0x9e3779b1) ^ Math.imul((key / 0x4000000) | 0, 0x85ebca6b)
  return mixed ^ (mixed >>> 15)
}

/**
 * Sums that can come about, each with its chance; several sums that belong together are one number, the key. A hash
 * table with open addressing: it holds hundreds of thousands, which are looked up millions of times.
 */
export class Sums {
  size = 0
  keys = new Float64Array(smallest)
  chances = new Float64Array(smallest)
  /** Where each key stands, counted from 1; 0 is free. Half of them stay free. */
  private slots = new Int32Array(2 * smallest)

  /** Adds to the chance of a sum. */
  add(key: number, chance: number): void {
    const mask = this.slots.length - 1
    let slot = spread(key) & mask
    for (let place = this.slots[slot] as number; place > 0; place = this.slots[slot] as number) {
      if (this.keys[place - 1] === key) {
        this.chances[place - 1] = (this.chances[place - 1] as number) + chance
        return
      }
      slot = (slot + 1) & mask
    }
    this.keys[this.size] = key
    this.chances[this.size] = chance
    this.size += 1
    this.slots[slot] = this.size
    if (this.size === this.keys.length) this.grow()
  }

  /** Empties it; it keeps its room. */
  clear(): void {
    this.size = 0
    this.slots.fill(0)
  }

  private grow(): void {
    const [keys, chances] = [new Float64Array(4 * this.size), new Float64Array(4 * this.size)]
    keys.set(this.keys)
    chances.set(this.chances)
    const slots = new Int32Array(8 * this.size)
    for (let i = 0; i < this.size; i += 1) {
      let slot = spread(keys[i] as number) & (slots.length - 1)
      while (slots[slot] !== 0) slot = (slot + 1) & (slots.length - 1)
      slots[slot] = i + 1
    }
    Object.assign(this, { keys, chances, slots })
  }

  /** Hands on those that are at least so likely. @returns how likely all others are together */
  likelier(least: number, into: () => Sums): number {
    let left = 0
    for (let i = 0; i < this.size; i += 1) {
      const chance = this.chances[i] as number
      if (chance < least) left += chance
      else into().add(this.keys[i] as number, chance)
    }
    return left
  }
}
