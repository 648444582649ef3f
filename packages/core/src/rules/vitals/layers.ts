/** What a blow meets on its way. */
export interface Layers {
  readonly shield: number
  /** The thousandths that it absorbs. */
  readonly armour: number
  readonly health: number
}
/** The parts of a blow. They add up to its amount. */
export interface Parts {
  readonly shield: number
  readonly armour: number
  readonly health: number
  /** What was more than there was to take. */
  readonly spilled: number
}

const THOUSAND = 1000

/**
 * Splits a blow: the shield takes what it can, armour absorbs its part of the rest, and health loses what is left.
 * What reaches the body is rounded down once.
 */
export function partsOf(amount: number, { shield, armour, health }: Layers, through?: string): Parts {
  const byShield = through === 'shield' || through === 'all' ? 0 : Math.min(shield, amount)
  const past = amount - byShield
  const kept = through === 'armour' || through === 'all' ? 0 : past - reaching(past, armour)
  const reaches = past - kept
  const taken = Math.min(health, reaches)
  return { shield: byShield, armour: kept, health: taken, spilled: reaches - taken }
}

/** Exact for any amount that is a safe integer. */
const reaching = (past: number, armour: number): number =>
  past <= Number.MAX_SAFE_INTEGER / THOUSAND
    ? Math.floor((past * (THOUSAND - armour)) / THOUSAND)
    : Number((BigInt(past) * BigInt(THOUSAND - armour)) / BigInt(THOUSAND))
