import { OpenDraft } from '../plan/index.ts'
import { type AnyRulebook, type TracedMatch, traceRecord } from '../rulebook/index.ts'
import { type Deed, deedsOf, type Ran } from '../tracing/index.ts'
import type { CheckFinding } from './check-finding.ts'

/** A timer is idle if it fired so often, and something came of it in so small a part. */
const [OFTEN, SELDOM] = [100, 0.05]

/** How often something ran, and how often that made a difference. */
interface Runs {
  times: number
  used: number
}

/** What handlers read and did in matches that are played again and watched. */
export class Watched {
  /** Such as `stall.jars.sold`. */
  private readonly read: Set<string> = new Set()
  private readonly amendments: Map<string, Runs> = new Map()
  private readonly timers: Map<string, Runs> = new Map()
  private readonly settings: Set<string> = new Set()
  /** By amendment, how often it redirected a draft that another one redirected to somebody else. */
  private readonly clashes: Map<string, Runs> = new Map()
  private last: TracedMatch | undefined

  /** Plays a record again. */
  take(book: AnyRulebook, record: string): void {
    this.last = traceRecord(book, record)
    for (const name of this.last.engine.settingsRead) this.settings.add(name)
    for (const step of this.last.tracer.steps) {
      const deeds = [...deedsOf(step)]
      for (const deed of deeds) if (deed.what === 'ran') this.ran(deed)
      if (step.timer !== undefined) count(this.timers, step.timer.name, deeds.some(isEffect))
    }
  }

  findings(inAll: string): readonly CheckFinding[] {
    const { last } = this
    return last === undefined
      ? []
      : [
          ...this.unread(last, inAll),
          ...this.unreadSettings(last, inAll),
          ...this.unused(last, inAll),
          ...this.clashing(inAll),
          ...this.idle(inAll),
        ]
  }

  private ran({ read, handler, amended, answer, given: [draft] }: Ran): void {
    for (const [{ $shape }, cells] of read)
      for (const cell of cells.keys()) this.read.add(`${$shape.path.slice(1).replace('/', '.')}.${cell}`)
    if (amended === undefined) return
    const { before, after, redirected, adds } = amended
    const hasChanged = Object.keys(after).some((cell) => before[cell] !== after[cell])
    count(this.amendments, handler.label, hasChanged || redirected || adds || answer !== undefined)
    // Where amendments choose different seats, none of them is struck instead.
    const isClash = redirected && draft instanceof OpenDraft && (draft.$targets?.size ?? 0) > 1
    if (redirected) count(this.clashes, handler.label, isClash)
  }

  /** Cells that nobody sees, and that no handler or sight has read. What an index finds is read by it. */
  private unread({ engine }: TracedMatch, inAll: string): CheckFinding[] {
    return engine.parts.flat().flatMap(({ stored: { shape } }) => {
      const part = shape.path.slice(1).replace('/', '.')
      return shape.each.flatMap(({ name, seen, indexed }): CheckFinding[] =>
        seen || indexed || this.read.has(`${part}.${name}`)
          ? []
          : [
              {
                kind: 'never-read',
                name: `${part}.${name}`,
                says: `Nobody sees it, and nothing read it ${inAll}.`,
                fix: 'Take it out, or say who sees it; leave it if your host reads it.',
              },
            ],
      )
    })
  }

  /** Settings of rules that no handler has read. Whether they are declared says nothing: a sight may need them. */
  private unreadSettings({ engine }: TracedMatch, inAll: string): CheckFinding[] {
    return Object.entries(engine.settings).flatMap(([rule, own]) =>
      Object.keys(Object(own)).flatMap((name): CheckFinding[] =>
        this.settings.has(`${rule}.${name}`)
          ? []
          : [
              {
                kind: 'never-read',
                name: `${rule}.${name}`,
                says: `Nothing read this setting ${inAll}.`,
                fix: 'Read it where it is meant to count, or take it out.',
              },
            ],
      ),
    )
  }

  /** Amendments that redirect a draft to different seats: then neither applies, without a word. */
  private clashing(inAll: string): CheckFinding[] {
    return [...this.clashes].flatMap(([label, { times, used }]): CheckFinding[] => {
      const [rule = '', , draft = ''] = label.split(' ')
      return used === 0
        ? []
        : [
            {
              kind: 'clash',
              name: `${rule}.${draft}`,
              says: `It redirected ${times} times ${inAll}, ${used} times against another amendment; then neither applies.`,
              fix: 'Let only one of them redirect at a time: give them conditions that exclude each other.',
            },
          ]
    })
  }

  /** Amendments that changed and refused nothing. */
  private unused({ engine: { plan } }: TracedMatch, inAll: string): CheckFinding[] {
    const all = plan.rules.flatMap(({ drafts }) =>
      [...drafts.values()].flatMap(({ amendments }) => amendments),
    )
    return all.flatMap(({ label }): CheckFinding[] => {
      const { times, used } = this.amendments.get(label) ?? { times: 0, used: 0 }
      const [rule = '', , draft = ''] = label.split(' ')
      const says =
        times === 0 ? `It never ran ${inAll}.` : `It ran ${times} times ${inAll}, and changed nothing.`
      return used > 0
        ? []
        : [
            {
              kind: 'never-amends',
              name: `${rule}.${draft}`,
              says,
              fix: 'Look at its condition, or take it out.',
            },
          ]
    })
  }

  /** Timers that look again and again whether there is something to do. */
  private idle(inAll: string): CheckFinding[] {
    return [...this.timers].flatMap(([name, { times, used }]): CheckFinding[] =>
      times < OFTEN || used > times * SELDOM
        ? []
        : [
            {
              kind: 'idle-timer',
              name,
              says: `It fired ${times} times ${inAll}, and something came of it ${used} times.`,
              fix: 'Start it for when there is something to do, or settle what it looks at.',
            },
          ],
    )
  }
}

/** A change of state that stays, or an event. */
const isEffect = (deed: Deed): boolean =>
  deed.what === 'raised' ||
  ((deed.what === 'wrote' || deed.what === 'added' || deed.what === 'removed') && !deed.isUndone)

function count(runs: Map<string, Runs>, name: string, isUsed: boolean): void {
  const known = runs.get(name) ?? { times: 0, used: 0 }
  runs.set(name, known)
  known.times++
  if (isUsed) known.used++
}
