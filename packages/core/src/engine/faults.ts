import { RefereeError } from '../kit/index.ts'
import type { IdMaker } from '../rows/index.ts'

/** Code of a mode that threw: its step was undone, or what it should have returned is left out. */
export interface Fault {
  /** The id that its ruling carries. The ruling says nothing else: what went wrong may be a secret. */
  readonly id: string
  /** Match time, in ms. */
  readonly at: number
  /** The handler that threw, such as `vitals amend vitals.hurt`. */
  readonly handler: string
  /** The input or timer whose step it was; 'options', 'trial' or 'sight' if it was only asked. */
  readonly during: string
  /** The value that was thrown. */
  readonly error: unknown
}

const KEPT = 20
/** Tells ids of faults apart from those of rows. */
const FAULTS = 0xfa017

/** The faults of a match: the latest, how many there were for each handler, and who is notified. */
export class FaultLog {
  readonly latest: Fault[] = []
  /** By handler, from the first one on. */
  counts: Map<string, number> | undefined
  private readonly ids: IdMaker
  /** Told of each at once. */
  private onFault: ((fault: Fault) => void) | undefined
  private inSteps = 0
  private whenAsked = 0

  constructor(ids: IdMaker, onFault?: (fault: Fault) => void) {
    this.ids = ids
    this.onFault = onFault
  }

  /** `isStep`: a step was undone. Faults in questions have numbers of their own, so that asking changes no ruling. */
  add(fault: Omit<Fault, 'id'>, isStep: boolean): string {
    const id = isStep ? this.ids.text(FAULTS, this.inSteps++, 0) : this.ids.text(FAULTS, this.whenAsked++, 1)
    this.keep({ id, ...fault })
    return id
  }

  private keep(fault: Fault): void {
    this.latest.push(fault)
    if (this.latest.length > KEPT) this.latest.shift()
    this.counts ??= new Map()
    this.counts.set(fault.handler, (this.counts.get(fault.handler) ?? 0) + 1)
    const { onFault } = this
    if (onFault === undefined) return
    this.onFault = undefined // so that a fault in it does not call it again
    try {
      onFault(fault)
    } catch (error) {
      this.add({ at: fault.at, handler: 'host onFault', during: fault.during, error }, false)
    }
    this.onFault = onFault
  }
}

/** Nothing in a match waits. What the handler still does when it is too late must not end the process. */
export function waits(handler: string, promise: Promise<unknown>): RefereeError {
  promise.catch(() => undefined)
  return new RefereeError('ZR_MATCH_ASYNC', { handler })
}

/**
 * Rows are closed: a cell that is not there cannot be written. Nor can lists in cells and settings, whose members are
 * numbered. Engines word that each in their own way.
 */
export function inOurWords(thrown: unknown): unknown {
  if (!(thrown instanceof TypeError && /not extensible/i.test(thrown.message))) return thrown
  const cell = /property "?'?(\w+)/.exec(thrown.message)?.[1] ?? ''
  return /^\d+$/.test(cell)
    ? new RefereeError('ZR_STATE_CLOSED_VALUE', { what: 'list' }, thrown)
    : new RefereeError('ZR_STATE_UNKNOWN_CELL', { cell }, thrown)
}
