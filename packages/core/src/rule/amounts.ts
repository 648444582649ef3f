import { RefereeError } from '../kit/index.ts'
import type { Amount } from './behaviour.ts'

const THOUSAND = 1000

/** Amounts are whole: a fraction or a text would reach a cell that cannot hold it. */
function whole(call: string, n: number): number {
  if (!Number.isSafeInteger(n)) throw new RefereeError('ZR_AMOUNT_NOT_WHOLE', { call, n })
  return n
}

/**
 * A number under amendment: `floor(min(atMost…, max(atLeast…, (base + Σ add) × Π times)))`, within the cell's own bounds. Factors
 * are kept as whole thousandths, so 100 × 1.15 is 115 and the order of amendments cannot matter.
 */
export class AmendedAmount implements Amount {
  readonly base: number
  private added = 0
  private factors: number[] | undefined
  private least = Number.NEGATIVE_INFINITY
  private most = Number.POSITIVE_INFINITY
  private readonly bounds: readonly [number, number]

  constructor(base: number, least: number = Number.MIN_SAFE_INTEGER, most: number = Number.MAX_SAFE_INTEGER) {
    this.base = base
    this.bounds = [least, most]
  }

  add(n: number): void {
    this.added += whole('add', n)
  }

  times(factor: number): void {
    const thousandths = Math.round(factor * THOUSAND)
    if (!Number.isSafeInteger(thousandths) || factor < 0 || Math.abs(factor * THOUSAND - thousandths) > 1e-6)
      throw new RefereeError('ZR_AMOUNT_BAD_FACTOR', { factor })
    this.factors = [...(this.factors ?? []), thousandths]
  }

  atLeast(n: number): void {
    this.least = Math.max(this.least, whole('atLeast', n))
  }

  atMost(n: number): void {
    this.most = Math.min(this.most, whole('atMost', n))
  }

  settled(): number {
    const product = this.factors === undefined ? this.base + this.added : this.multiplied(this.factors)
    const amended = Math.min(this.most, Math.max(this.least, product))
    if (!Number.isSafeInteger(amended)) throw new RefereeError('ZR_AMOUNT_TOO_BIG', { amount: amended })
    const [least, most] = this.bounds
    return Math.max(least, Math.min(most, amended))
  }

  private multiplied(factors: readonly number[]): number {
    const exact = factors.reduce(
      (product, factor) => product * BigInt(factor),
      BigInt(this.base + this.added),
    )
    const unit = BigInt(THOUSAND) ** BigInt(factors.length)
    const towardsZero = exact / unit
    return Number(exact < 0n && towardsZero * unit !== exact ? towardsZero - 1n : towardsZero)
  }
}
