import type { Values } from '../cells/index.ts'
import type { Answer, DraftPlan, EventPlan, Handler } from '../plan/index.ts'
import type { CompiledRow } from '../rows/index.ts'
import type { Ruling } from '../rule/index.ts'
import type { ClockName } from '../time/index.ts'

/** A step of a match: an input, a timer or something of the engine's, and all that was done in it, in order. */
export interface StepTaken {
  readonly what: 'step'
  /** Match time, in ms. */
  readonly at: number
  /** What it was for: the name of an input, or the label of a timer's handler. */
  readonly during: string
  /** The line of the record; nothing for what came by time. */
  readonly line: number | undefined
  /** The timer that fired. */
  readonly timer: TimerName | undefined
  readonly did: Deed[]
  /** Set at its end. */
  ruling: Ruling | undefined
  /** What was thrown in it. */
  error: unknown
}
/** Such as `respawn.back` of otter. */
export interface TimerName {
  readonly name: string
  readonly key: string
}

/** A handler that ran. */
export interface Ran {
  readonly what: 'ran'
  readonly by: Doer
  readonly handler: Handler<never, unknown>
  /** What it was given besides its `match`. */
  readonly given: readonly [a: unknown, b: unknown]
  /** The event that it handles. */
  readonly on: Raised | undefined
  readonly did: Deed[]
  /** By row, the cells that it read and what they held at first. */
  readonly read: Map<CompiledRow, Map<string, unknown>>
  answer: unknown
  hasThrown: boolean
  /** What it made of a draft that it amends. */
  amended:
    | {
        readonly before: Values
        readonly after: Values
        /** Whether it redirected the draft. */
        readonly redirected: boolean
        /** Whether it asked for something to be done once the draft is applied. */
        readonly adds: boolean
      }
    | undefined
}
/** A draft that was resolved: its amendments ran, then the rule that declares it. */
export interface Resolved {
  readonly what: 'resolved'
  readonly by: Doer
  readonly draft: DraftPlan
  readonly given: Values
  readonly did: Deed[]
  answer: Answer
}
/** A change of state. `isUndone`: it was taken back, with its step or a part of it. */
interface Change {
  readonly by: Doer
  isUndone: boolean
}
/** A cell that was written. Values are as rows keep them. */
export interface Wrote extends Change {
  readonly what: 'wrote'
  readonly row: CompiledRow
  readonly cell: string
  readonly before: unknown
  /** Set once it is written again, or its step ends. */
  after: unknown
}
/** A row that was added or removed. */
export interface RowMoved extends Change {
  readonly what: 'added' | 'removed'
  readonly row: CompiledRow
}
/** A timer that was started, put off or stopped. */
export interface TimerMoved extends Change {
  readonly what: 'started' | 'stopped' | 'moved'
  readonly timer: TimerName
  readonly clock: ClockName
  /** After the change, or when it would have been due; in the time of its clock, ms. */
  readonly due: number
  /** What the clock read. */
  readonly reading: number
}
/** A clock that was stopped or let run. */
export interface ClockMoved extends Change {
  readonly what: 'clock'
  readonly clock: ClockName
  readonly runs: boolean
}
/** An event that was raised. */
export interface Raised {
  readonly what: 'raised'
  readonly by: Doer
  readonly event: EventPlan
  readonly cells: Values
}
export type Changed = Wrote | RowMoved | TimerMoved | ClockMoved
export type Deed = Ran | Resolved | Changed | Raised
export type Doer = StepTaken | Ran | Resolved

/** The step that a deed is in. */
export function stepOf(deed: Deed | StepTaken): StepTaken {
  let at = deed
  while (at.what !== 'step') at = at.by
  return at
}

/** All that was done by a doer, and by what it ran, in order. */
export function* deedsOf({ did }: Doer): Iterable<Deed> {
  for (const deed of did) {
    yield deed
    if (deed.what === 'ran' || deed.what === 'resolved') yield* deedsOf(deed)
  }
}
