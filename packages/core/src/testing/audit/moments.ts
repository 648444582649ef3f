import type { Snapshot } from '../../record/index.ts'
import type { Deed } from '../deeds.ts'
import { type FaultKind, FaultKinds } from '../fault-kinds.ts'
import type { SightLeak } from './asked.ts'
import { ReturningIds } from './returning-ids.ts'
import type { Source } from './sources.ts'

/** The match before one of its deeds. */
export interface Moment {
  readonly snapshot: Snapshot
  readonly deed: Deed
  /** The deed and those that came after it. */
  readonly onward: readonly Deed[]
}

/** Plays twice: once to learn the deeds, and once to keep some of them, with the match before each. */
export function momentsOf(
  source: Source,
  checks: number,
): {
  readonly usual: readonly Moment[]
  readonly returning: readonly SightLeak[]
  readonly faults: readonly FaultKind[]
} {
  const names: string[] = []
  source.play(source.begin(), ({ name }) => names.push(name))
  const picked = pickedOf(names, checks)
  const found: (Omit<Moment, 'onward'> & { readonly nth: number })[] = []
  const deeds: Deed[] = []
  const faults = new FaultKinds()
  const match = source.begin(faults.add)
  const ids = new ReturningIds(match)
  source.play(match, (deed) => {
    const nth = deeds.push(deed) - 1
    if (picked.has(nth)) found.push({ snapshot: match.snapshot(), deed, nth })
    if (deed.seat !== undefined || deed.name === 'time') ids.look()
  })
  const usual = found.map(({ nth, ...moment }) => ({ ...moment, onward: deeds.slice(nth) }))
  return { usual, returning: ids.leaks, faults: faults.all() }
}

/** So many numbers of deeds, or a few more: of each kind of input some, spread evenly over the match. */
function pickedOf(names: readonly string[], checks: number): ReadonlySet<number> {
  const kinds = new Map<string, number[]>()
  for (const [nth, name] of names.entries()) kinds.set(name, [...(kinds.get(name) ?? []), nth])
  const share = Math.ceil(checks / kinds.size)
  return new Set([...kinds.values()].flatMap((all) => spread(all, share)))
}

function spread(all: readonly number[], most: number): readonly number[] {
  const count = Math.min(most, all.length)
  return Array.from({ length: count }, (_, at) => all[Math.floor(((at + 0.5) * all.length) / count)] ?? 0)
}
