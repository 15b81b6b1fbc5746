/**
 * Free space as the largest aligned blocks that fit (a buddy system): taking a prefix splits the
 * smallest block that holds it, so that
 * large blocks stay whole as long as they can. Works for both families.
 */
import {
  containsPrefix,
  formatPrefix,
  lastOf,
  prefixAround,
  prefixSize,
  type Prefix,
} from './prefix'
import { addressBits } from './address'

/** First index in a sorted list whose value is not less. */
function lowerBound(sorted: readonly bigint[], value: bigint): number {
  let low = 0
  let high = sorted.length
  while (low < high) {
    const middle = (low + high) >>> 1
    if (sorted[middle]! < value) low = middle + 1
    else high = middle
  }
  return low
}

export class FreeSpace {
  /** Network addresses of the free blocks by their length, ascending. */
  private readonly blocks: bigint[][]

  /** @throws RangeError where the spaces are of two families. */
  constructor(
    readonly family: 4 | 6,
    spaces: readonly Prefix[],
    taken: readonly Prefix[] = [],
  ) {
    this.blocks = Array.from({ length: addressBits(family) + 1 }, () => [])
    for (const s of spaces) {
      if (s.family !== family) throw new RangeError(`${formatPrefix(s)} is not IPv${family}`)
      if (
        !spaces.some(
          (o) =>
            o !== s &&
            containsPrefix(o, s) &&
            (o.length < s.length || spaces.indexOf(o) < spaces.indexOf(s)),
        )
      )
        this.add(s.length, s.network)
    }
    for (const t of taken) if (t.family === family) this.remove(t)
  }

  /** A copy that can be tried things on. */
  clone(): FreeSpace {
    const copy = new FreeSpace(this.family, [])
    this.blocks.forEach((list, length) => {
      copy.blocks[length] = [...list]
    })
    return copy
  }

  /** The free blocks, the lowest address first: "a /26 fits here". */
  list(): Prefix[] {
    return this.blocks
      .flatMap((networks, length) =>
        networks.map((network): Prefix => ({ family: this.family, network, length })),
      )
      .sort((a, b) => (a.network < b.network ? -1 : 1))
  }

  isFree(p: Prefix): boolean {
    return this.blockAround(p) !== undefined
  }

  /** Takes exactly this prefix; false where any of it is not free. */
  takeExact(p: Prefix): boolean {
    const block = this.blockAround(p)
    if (!block) return false
    this.split(block, p)
    return true
  }

  /**
   * Takes a prefix of a length, from the smallest block that has it, the lowest address first.
   * @param alignLength the network address has to be a multiple of this (shorter) length's size
   */
  take(length: number, alignLength: number = length): Prefix | undefined {
    const step = 1n << BigInt(addressBits(this.family) - Math.min(alignLength, length))
    for (let l = length; l >= 0; l--) {
      const network =
        l <= alignLength ? this.blocks[l]![0] : this.blocks[l]!.find((n) => n % step === 0n)
      if (network === undefined) continue
      const wanted: Prefix = { family: this.family, network, length }
      this.split({ family: this.family, network, length: l }, wanted)
      return wanted
    }
    return undefined
  }

  /** Takes away whatever is free of a prefix, and tells what that was. */
  remove(p: Prefix): Prefix[] {
    const block = this.blockAround(p)
    if (block) {
      this.split(block, p)
      return [p]
    }
    const last = lastOf(p)
    const gone: Prefix[] = []
    for (let l = p.length + 1; l < this.blocks.length; l++) {
      const list = this.blocks[l]!
      const from = lowerBound(list, p.network)
      let to = from
      while (to < list.length && list[to]! <= last) to++
      for (const network of list.splice(from, to - from))
        gone.push({ family: this.family, network, length: l })
    }
    return gone
  }

  /** Gives a prefix back; halves that become whole are joined. */
  release(p: Prefix): void {
    let { network, length } = p
    while (length > 0) {
      const size = 1n << BigInt(addressBits(this.family) - length)
      const buddy = network ^ size
      const list = this.blocks[length]!
      const at = lowerBound(list, buddy)
      if (list[at] !== buddy) break
      list.splice(at, 1)
      network = network < buddy ? network : buddy
      length--
    }
    this.add(length, network)
  }

  private blockAround(p: Prefix): Prefix | undefined {
    for (let l = p.length; l >= 0; l--) {
      const { network } = prefixAround({ family: p.family, value: p.network }, l)
      const list = this.blocks[l]!
      if (list[lowerBound(list, network)] === network)
        return { family: this.family, network, length: l }
    }
    return undefined
  }

  private split(block: Prefix, wanted: Prefix): void {
    const list = this.blocks[block.length]!
    list.splice(lowerBound(list, block.network), 1)
    let { network } = block
    for (let l = block.length + 1; l <= wanted.length; l++) {
      const half = 1n << BigInt(addressBits(this.family) - l)
      const isUpper = wanted.network >= network + half
      this.add(l, isUpper ? network : network + half)
      if (isUpper) network += half
    }
  }

  private add(length: number, network: bigint): void {
    const list = this.blocks[length]!
    list.splice(lowerBound(list, network), 0, network)
  }
}

/** The largest aligned blocks that are left of spaces once the taken prefixes are cut out. */
export const freeBlocks = (spaces: readonly Prefix[], taken: readonly Prefix[]): Prefix[] =>
  spaces.length === 0
    ? []
    : new FreeSpace(
        spaces[0]!.family,
        spaces.filter((s) => s.family === spaces[0]!.family),
        taken,
      ).list()

/** Addresses in free blocks. */
export const freeCount = (blocks: readonly Prefix[]): bigint =>
  blocks.reduce((n, b) => n + prefixSize(b), 0n)
