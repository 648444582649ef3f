import type { InputLine } from '../../record/index.ts'
import type { TracedMatch } from '../../rulebook/index.ts'
import {
  type Changed,
  type Deed,
  type Doer,
  deedsOf,
  type Raised,
  type Ran,
  type Resolved,
  type StepTaken,
  stepOf,
  type TimerMoved,
  type TimerName,
} from '../../tracing/index.ts'
import type { Cause } from './explanation.ts'
import { deedText, readText, stepText, timerText, valueText } from './says.ts'

/** How many reads are said of a handler: of one that decided, and of each in a deep answer. */
const [FEW, MANY] = [3, 12]

/** Tells what led to something in a match, from the input or timer down to it. */
export class Teller {
  readonly played: TracedMatch
  private readonly about: string | undefined

  /** `about`: the seat of the question. What was read about it is said first. */
  constructor(played: TracedMatch, about?: string) {
    this.played = played
    this.about = about
  }

  get steps(): readonly StepTaken[] {
    return this.played.tracer.steps
  }

  inputOf({ line }: StepTaken): InputLine | undefined {
    return line === undefined ? undefined : this.played.inputs.get(line)?.line
  }

  stepText(step: StepTaken): string {
    return stepText(step, this.inputOf(step))
  }

  /** The last time that a timer was started or put off, before a step if one is given. */
  startOf(timer: TimerName, before?: StepTaken): TimerMoved | undefined {
    return this.moves(timer, before).findLast(({ what }) => what !== 'stopped')
  }

  /** All that was done to a timer, and kept. */
  moves({ name, key }: TimerName, before?: StepTaken): TimerMoved[] {
    const moves: TimerMoved[] = []
    for (const step of this.steps) {
      if (step === before) break
      for (const deed of deedsOf(step))
        if (isTimer(deed) && !deed.isUndone && deed.timer.name === name && deed.timer.key === key)
          moves.push(deed)
    }
    return moves
  }

  /** What led to a deed: the lines of its chain, each handler with what it did next. */
  causesOf(deed: Deed): Cause[] {
    const chain = chainOf(deed)
    const [step] = chain as [StepTaken]
    const causes: Cause[] = []
    if (step.timer !== undefined) causes.push(...this.startedBy(step, step.timer))
    causes.push(this.stepCause(step))
    let depth = 0
    for (const [at, node] of chain.entries()) {
      const next = chain[at + 1] as Deed | undefined
      if (node.what === 'ran') {
        depth++
        causes.push(...this.ranCauses(node, next, step.at, depth))
      } else if (node.what === 'resolved') causes.push(...this.amendments(node, step.at, depth + 1))
      else if (node.what === 'step' && next !== undefined && next.what !== 'ran')
        causes.push({ at: step.at, depth: 1, says: `the engine ${this.deedText(next)}`, isDetail: false })
      if (node.what === 'step') causes.push(...this.besides(node, next))
    }
    return causes
  }

  /** The events that led to a deed, in order, through the timers that were started for it. */
  eventsBefore(deed: Deed): Raised[] {
    const chain = chainOf(deed)
    const [{ timer }] = chain as [StepTaken]
    const start = timer && this.startOf(timer, stepOf(deed))
    return [
      ...(start === undefined ? [] : this.eventsBefore(start)),
      ...chain.filter((each): each is Raised => each.what === 'raised' && each !== deed),
    ]
  }

  /** A step as a cause. */
  stepCause(step: StepTaken, isDetail = false): Cause {
    const { at, line } = step
    return { at, ...(line !== undefined && { line }), depth: 0, says: this.stepText(step), isDetail }
  }

  deedText(deed: Deed): string {
    return deedText(deed, ({ due, reading, clock }) => `due in ${span(due - reading)} on the ${clock} clock`)
  }

  /** What a handler read, as a cause; nothing if it read nothing. */
  reads(ran: Ran, at: number, depth: number, isDetail: boolean): Cause[] {
    const says = readText(ran, isDetail ? MANY : FEW, this.about)
    return says === '' ? [] : [{ at, depth, says, isDetail }]
  }

  /** The amendments that changed a draft or refused it. */
  amendments({ did, draft }: Resolved, at: number, depth: number): Cause[] {
    return did.flatMap((ran): Cause[] => {
      if (ran.what !== 'ran' || ran.amended === undefined) return []
      const { before, after } = ran.amended
      const changes = Object.keys(after).flatMap((cell) =>
        before[cell] === after[cell] ? [] : `${cell} ${valueText(before[cell])} → ${valueText(after[cell])}`,
      )
      const isRefused = isRefusal(ran.answer)
      const did = isRefused ? 'refuses it' : changes.join(', ') || 'changes nothing'
      return [
        {
          at,
          depth,
          says: `${ran.handler.label === '' ? draft.name : ran.handler.label}: ${did}`,
          isDetail: !isRefused && changes.length === 0,
        },
        ...this.reads(ran, at, depth + 1, !isRefused),
      ]
    })
  }

  /** What started the timer of a step, and what that was for. */
  private startedBy(step: StepTaken, timer: TimerName): Cause[] {
    const start = this.startOf(timer, step)
    if (start === undefined) return []
    const chain = this.causesOf(start)
    const nearest = [
      chain.findLast(({ depth }) => depth === 0),
      chain.findLast(({ says }) => says.includes(timerText(timer))),
    ]
    return chain.map((cause) => ({ ...cause, isDetail: !nearest.includes(cause) }))
  }

  private ranCauses(ran: Ran, next: Deed | undefined, at: number, depth: number): Cause[] {
    const woken = 'bit' in ran.handler ? ', woken by that,' : ''
    const says =
      next === undefined
        ? `${ran.handler.label}${woken} runs`
        : next.what === 'ran' && next.by !== ran
          ? '' // what it raised or wrote is said already
          : `${ran.handler.label}${woken} ${this.deedText(next)}`
    return [
      ...(says === '' ? [] : [{ at, depth, says, isDetail: false }]),
      ...this.reads(ran, at, depth + 1, true),
    ]
  }

  /** The gates and handlers that a step ran besides the one that led on. */
  private besides({ did, at }: StepTaken, next: Deed | undefined): Cause[] {
    return did.flatMap((deed): Cause[] =>
      deed === next || deed.what !== 'ran' || deed.handler.label.endsWith(' gate') === false
        ? []
        : [{ at, depth: 1, says: `${deed.handler.label}: lets it through`, isDetail: true }],
    )
  }
}

export const isTimer = (deed: Deed): deed is TimerMoved =>
  deed.what === 'started' || deed.what === 'stopped' || deed.what === 'moved'

export const isRefusal = (answer: unknown): answer is { readonly ok: false; readonly code: string } =>
  Object(answer).ok === false

/** A length of time in words, such as `30 s`. */
export const span = (ms: number): string => `${ms / 1000} s`

/** From the step down to a deed: a handler of an event behind what raised it, a settling rule behind what woke it. */
function chainOf(deed: Deed): readonly (StepTaken | Deed)[] {
  const cause = deed.what === 'ran' ? (deed.on ?? wokenBy(deed)) : undefined
  if (cause !== undefined) return [...chainOf(cause), deed]
  const { by } = deed
  return by.what === 'step' ? [by, deed] : [...chainOf(by), deed]
}

/** The last change before a settling rule ran that woke it. */
function wokenBy(ran: Ran): Changed | undefined {
  const { bit } = ran.handler as Partial<{ readonly bit: number }>
  if (bit === undefined) return undefined
  let found: Changed | undefined
  for (const deed of deedsOf(stepOf(ran) as Doer)) {
    if (deed === ran) break
    const isState = deed.what === 'wrote' || deed.what === 'added' || deed.what === 'removed'
    if (isState && !deed.isUndone && (deed.row.$shape.wakes & bit) !== 0) found = deed
  }
  return found
}
