import type { Coverage } from './asked.ts'
import { type Lack, lacks } from './ways.ts'

/** Fewer steps in the middle case would miss what comes later. */
const ENOUGH_STEPS = 10

/** How thoroughly one part of an audit checked a secret. */
export interface CoveredPart {
  readonly varied: number
  readonly moments: readonly number[]
  readonly viewers: { readonly [viewer: string]: number }
  /** Numbers of steps that twins were run on; null for what is compared at one moment only. */
  readonly steps: readonly number[] | null
  /** Why it could not be varied, where it could not. */
  readonly lack: Lack | null
}

/** Counts how a secret is looked at. */
export class Covered {
  private varied = 0
  private readonly moments: Set<number> = new Set()
  private readonly viewers: Map<string, number> = new Map()
  private readonly steps: number[] | undefined
  private lack: Lack | null = null

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

  lacked(lack: Lack): void {
    this.lack = least(this.lack, lack)
  }

  part(): CoveredPart {
    const { varied, moments, viewers, steps = null, lack } = this
    return { varied, moments: [...moments], viewers: Object.fromEntries(viewers), steps, lack }
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

/** The one of two with which less is missing. */
const least = (one: Lack | null, other: Lack | null): Lack | null =>
  lacks.findLast((lack) => lack === one || lack === other) ?? null

/** Advice for each reason why a secret could not be varied. */
const helps: { readonly [L in Lack]: string } = {
  'no-row': 'There was no row of it: play until there is one.',
  'nothing-hidden': 'Whoever looked saw it: play longer, or with more seats.',
  'no-other-value':
    'No other value could be made up for it: play until its rows differ, or let its rule offer a variation.',
}

/**
 * Returns why the audit can't say anything about a secret, or nothing if it was checked well or could not have been
 * different.
 */
export function gapIn(
  secret: string,
  { varied, steps }: Coverage,
  lack: Lack | undefined,
): string | undefined {
  if (varied === 0) return lack && `${secret} was never varied. ${helps[lack]}`
  return steps !== undefined && steps < ENOUGH_STEPS
    ? `${secret} was followed for ${steps} ${steps === 1 ? 'step' : 'steps'} only (median). Play so that it stays hidden for longer.`
    : undefined
}

/** Returns the reason that applies in all parts. */
export const lackIn = (parts: readonly CoveredPart[]): Lack | undefined =>
  parts.map(({ lack }) => lack).reduce(least, null) ?? undefined

function median(steps: readonly number[]): number {
  const sorted = [...steps].sort((a, b) => a - b)
  return sorted[Math.floor(sorted.length / 2)] ?? 0
}
