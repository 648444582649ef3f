import type { FaultKind } from '../fault-kinds.ts'
import { Shares, Tallies } from './counts.ts'
import type { Finding, Rehearsal, RehearsalPart, Share, Spread } from './rehearsal.ts'
import { wilson } from './wilson.ts'

/** Puts parts of a rehearsal together: the same as if all had been played in one, in their order. */
export function joinRehearsals(rulebook: string, parts: readonly RehearsalPart[]): Rehearsal {
  const sum = (of: 'matches' | 'over'): number => parts.reduce((so, part) => so + part[of], 0)
  const tallied = (of: 'endings' | 'actions' | 'choices') => {
    const tallies = new Tallies()
    for (const { name, times } of parts.flatMap((part) => part[of])) tallies.add(name, times)
    return tallies.all()
  }
  const shared = (of: keyof RehearsalPart['wins']): readonly Share[] => {
    const shares = new Shares()
    for (const won of parts.flatMap((part) => part.wins[of])) shares.addAll(won)
    return shares.all().map((each) => ({ ...each, interval: wilson(each) }))
  }
  const scores = parts.flatMap((part) => part.scores)
  return {
    rulebook,
    matches: sum('matches'),
    over: sum('over'),
    endings: tallied('endings'),
    seats: shared('seats'),
    sides: shared('sides'),
    starter: shared('starters')[0],
    comebacks: shared('comebacks')[0],
    lengths: spreadOf(parts.flatMap((part) => part.lengths)),
    scores: scores.length === 0 ? undefined : spreadOf(scores),
    actions: tallied('actions'),
    choices: tallied('choices'),
    faults: joined(
      parts.flatMap((part) => part.faults),
      ({ handler, error }: FaultKind) => `${handler} ${error}`,
    ),
    findings: joined(
      parts.flatMap((part) => part.findings),
      ({ kind, says }: Finding) => `${kind} ${says}`,
    ),
  }
}

function spreadOf(values: readonly number[]): Spread {
  const sorted = [...values].sort((a, b) => a - b)
  const at = (part: number): number => sorted[Math.floor(part * (sorted.length - 1))] ?? 0
  return [at(0.1), at(0.5), at(0.9)]
}

/** Those that are alike as one, as the first of them was, with how many there were. */
function joined<T extends { readonly times: number }>(all: readonly T[], keyOf: (each: T) => string): T[] {
  const known = new Map<string, T>()
  for (const each of all) {
    const first = known.get(keyOf(each)) ?? { ...each, times: 0 }
    known.set(keyOf(each), { ...first, times: first.times + each.times })
  }
  return [...known.values()]
}
