import type { Coverage } from './asked.ts'

/** Fewer steps in the middle case would miss what comes later. */
const ENOUGH_STEPS = 10

/** How a secret was looked at in one part of an audit. */
export interface CoveredPart {
  readonly varied: number
  readonly moments: readonly number[]
  readonly viewers: { readonly [viewer: string]: number }
  /** How far twins went; nothing for what is only compared at one moment. */
  readonly steps: readonly number[] | null
}

/** Counts how a secret is looked at. */
export class Covered {
  private varied = 0
  private readonly moments: Set<number> = new Set()
  private readonly viewers: Map<string, number> = new Map()
  private readonly steps: number[] | undefined

  constructor(goesOn: boolean) {
    this.steps = goesOn ? [] : undefined
  }

  count(moment: number, viewer: string): void {
    this.varied += 1
    this.moments.add(moment)
    this.viewers.set(viewer, (this.viewers.get(viewer) ?? 0) + 1)
  }

  went(steps: number): void {
    this.steps?.push(steps)
  }

  part(): CoveredPart {
    const { varied, moments, viewers, steps = null } = this
    return { varied, moments: [...moments], viewers: Object.fromEntries(viewers), steps }
  }
}

/** The parts of one secret together. */
export function joinCovered(parts: readonly CoveredPart[]): Coverage {
  const viewers: Record<string, number> = {}
  for (const part of parts)
    for (const [viewer, count] of Object.entries(part.viewers))
      viewers[viewer] = (viewers[viewer] ?? 0) + count
  const steps = parts.flatMap((part) => part.steps ?? [])
  return {
    varied: parts.reduce((sum, { varied }) => sum + varied, 0),
    moments: new Set(parts.flatMap(({ moments }) => moments)).size,
    viewers,
    steps: parts.every((part) => part.steps === null) ? undefined : median(steps),
  }
}

/** Why nothing can be said of a secret, as a sentence; nothing where it was looked at well. */
export function gapIn(secret: string, { varied, steps }: Coverage): string | undefined {
  if (varied === 0)
    return `${secret} was never varied. Play longer, with more seats, or so that its rows differ.`
  return steps !== undefined && steps < ENOUGH_STEPS
    ? `${secret} was followed for ${steps} ${steps === 1 ? 'step' : 'steps'} in the middle case. Play so that it stays hidden for longer.`
    : undefined
}

function median(steps: readonly number[]): number {
  const sorted = [...steps].sort((a, b) => a - b)
  return sorted[Math.floor(sorted.length / 2)] ?? 0
}
