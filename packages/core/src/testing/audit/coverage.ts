import type { Coverage } from './asked.ts'
import type { Variation } from './variations.ts'

/** Fewer steps in the middle case would miss what comes later. */
const ENOUGH_STEPS = 10

/** Counts how often each secret was varied, at how many moments, for whom, and how far twins went. */
export class Covered {
  private readonly secrets: Map<
    string,
    { varied: number; moments: Set<number>; viewers: Map<string, number>; steps: number[] }
  >
  private readonly goOn: ReadonlySet<string>

  constructor(variations: readonly Variation[]) {
    this.goOn = new Set(variations.flatMap(({ name, secret }) => (secret === undefined ? [] : name)))
    this.secrets = new Map(
      variations.map(({ name }) => [name, { varied: 0, moments: new Set(), viewers: new Map(), steps: [] }]),
    )
  }

  count(secret: string, moment: number, viewer: string, steps: number | undefined): void {
    const covered = this.secrets.get(secret)
    if (covered === undefined) return
    covered.varied += 1
    covered.moments.add(moment)
    covered.viewers.set(viewer, (covered.viewers.get(viewer) ?? 0) + 1)
    if (steps !== undefined) covered.steps.push(steps)
  }

  report(): { readonly [secret: string]: Coverage } {
    return Object.fromEntries(
      [...this.secrets].map(([name, { varied, moments, viewers, steps }]) => [
        name,
        {
          varied,
          moments: moments.size,
          viewers: Object.fromEntries(viewers),
          steps: this.goOn.has(name) ? median(steps) : undefined,
        },
      ]),
    )
  }

  incomplete(): string[] {
    return Object.entries(this.report()).flatMap(([name, { varied, steps }]) => {
      if (varied === 0)
        return `${name} was never varied: play longer, with more seats, or so that its rows differ`
      return steps !== undefined && steps < ENOUGH_STEPS
        ? `${name} was followed for ${steps} steps in the middle case: play so that it stays hidden for longer`
        : []
    })
  }
}

function median(steps: readonly number[]): number {
  const sorted = [...steps].sort((a, b) => a - b)
  return sorted[Math.floor(sorted.length / 2)] ?? 0
}
