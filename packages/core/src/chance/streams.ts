import { chacha20 } from '@noble/ciphers/chacha.js'
import { sha256 } from '@noble/hashes/sha2.js'
import { utf8ToBytes } from '@noble/hashes/utils.js'
import { RefereeError } from '../kit/index.ts'
import type { Store } from '../rows/index.ts'

/** 32 bytes, or text that SHA-256 turns into them. */
export type Seed = string | Uint8Array

/** Draws from one random stream. All bounds are inclusive. */
export interface Chance {
  /** @throws ZR_CHANCE_BAD_RANGE */
  int(from: number, to: number): number
  /** Returns one of these, each equally likely. Returns nothing for an empty list. */
  pick<V>(items: readonly [V, ...V[]]): V
  pick<V>(items: readonly V[]): V | undefined
  /** Returns a copy in random order (Fisher–Yates). Fewer than two items draw nothing. */
  shuffle<V>(items: readonly V[]): V[]
  /**
   * Returns one of several by whole weights: an item of weight 3 comes up three times as often as one of weight 1.
   * @throws ZR_CHANCE_BAD_WEIGHT if a weight is negative or not whole, or all are 0
   */
  weighted<V>(choices: readonly (readonly [item: V, weight: number])[]): V
  /** Rolls this many dice with this many sides, each from 1. */
  dice(count: number, sides: number): number[]
}

/** @throws ZR_CHANCE_BAD_SEED */
export function seedKey(seed: Seed): Uint8Array {
  if (typeof seed === 'string' && seed !== '') return sha256(utf8ToBytes(seed))
  if (seed instanceof Uint8Array && seed.length === 32) return seed.slice()
  const got =
    typeof seed === 'string'
      ? 'empty text'
      : seed instanceof Uint8Array
        ? `${seed.length} bytes`
        : typeof seed
  throw new RefereeError('ZR_CHANCE_BAD_SEED', { got })
}

const WORDS = 128
const BLOCKS_AT_ONCE = WORDS / 16

/**
 * Random numbers from ChaCha20 (RFC 8439): the seed is the key, the purpose makes the nonce, and the state counts the
 * 32-bit words drawn. So each purpose has its own stream, which says nothing about another.
 */
export class Stream implements Chance {
  /** Words drawn so far. */
  drawn = 0
  private readonly store: Store
  private readonly key: Uint8Array
  private readonly nonce: Uint8Array
  private words = new Uint32Array(0)
  private from = -1

  constructor(store: Store, key: Uint8Array, purpose: string) {
    this.store = store
    this.key = key
    this.nonce = sha256(utf8ToBytes(purpose)).subarray(0, 12)
  }

  int(from: number, to: number): number {
    const span = to - from + 1
    if (!Number.isSafeInteger(from) || !Number.isSafeInteger(to) || span < 1 || span > 2 ** 32)
      this.store.fail(new RefereeError('ZR_CHANCE_BAD_RANGE', { from, to }))
    // Words beyond the last whole multiple of the span are dropped. Otherwise small numbers would come up more often.
    const fair = 2 ** 32 - (2 ** 32 % span)
    for (;;) {
      const word = this.word()
      if (word < fair) return from + (word % span)
    }
  }

  pick<V>(items: readonly [V, ...V[]]): V
  pick<V>(items: readonly V[]): V | undefined
  pick<V>(items: readonly V[]): V | undefined {
    return items.length === 0 ? undefined : items[this.int(0, items.length - 1)]
  }

  shuffle<V>(items: readonly V[]): V[] {
    const mixed = [...items]
    for (let last = mixed.length - 1; last > 0; last--) {
      const other = this.int(0, last)
      const held = mixed[last] as V
      mixed[last] = mixed[other] as V
      mixed[other] = held
    }
    return mixed
  }

  weighted<V>(choices: readonly (readonly [item: V, weight: number])[]): V {
    const total = choices.reduce((sum, [, weight]) => sum + weight, 0)
    const bad = choices.find(([, weight]) => !Number.isSafeInteger(weight) || weight < 0)
    if (bad !== undefined || total < 1)
      this.store.fail(new RefereeError('ZR_CHANCE_BAD_WEIGHT', { weight: bad?.[1] ?? total }))
    let left = this.int(1, total)
    for (const [item, weight] of choices) {
      left -= weight
      if (left <= 0) return item
    }
    throw new RefereeError('ZR_CHANCE_BAD_WEIGHT', { weight: total })
  }

  dice(count: number, sides: number): number[] {
    return Array.from({ length: count }, () => this.int(1, sides))
  }

  restore(drawn: number): void {
    this.drawn = drawn
  }

  private word(): number {
    if (!this.store.open) this.store.refuse('chance')
    this.store.undo.noteOf(this, this.drawn)
    const from = this.drawn - (this.drawn % WORDS)
    if (from !== this.from) {
      const bytes = chacha20(
        this.key,
        this.nonce,
        new Uint8Array(WORDS * 4),
        undefined,
        (from / WORDS) * BLOCKS_AT_ONCE,
      )
      const little = new DataView(bytes.buffer, bytes.byteOffset)
      if (this.words.length === 0) this.words = new Uint32Array(WORDS)
      for (let at = 0; at < WORDS; at++) this.words[at] = little.getUint32(at * 4, true)
      this.from = from
    }
    return this.words[this.drawn++ - from] as number
  }
}
