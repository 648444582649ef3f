import { type ClockName, RefereeError } from '../kit/index.ts'
import { type Reach, type ReachOf, reachOf, type Sight } from './sights.ts'

/**
 * Facts that types know about a cell, besides its value. It has no initial value (`required`), not even a natural one
 * such as 0 or '' (`no-zero`); it holds a seat; it is an amount that amendments may adjust; or it is a moment on a
 * clock.
 */
export type Mark = 'required' | 'no-zero' | 'seat' | 'amount' | OnClock
/** A moment, by the clock that it is read on. */
export type OnClock<C extends ClockName = ClockName> = `on-${C}`

export type CellKind =
  | 'int'
  | 'num'
  | 'amount'
  | 'text'
  | 'flag'
  | 'choice'
  | 'time'
  | 'seat'
  | 'row'
  | 'list'
  | 'set'
  | 'map'
  | 'json'
  | 'maybe'

/**
 * What happens to a cell when the row that it refers to is removed: it is cleared, the removal is an error, or its
 * own row is removed too.
 */
export type Gone = 'clear' | 'forbid' | 'cascade'

/** One declared value: of a row, an event, a draft or an input. Nobody sees it unless `seenBy` says who. */
export interface Cell<V, R extends Reach = 'nobody', M extends Mark = never> {
  /** The kind of value that it holds. */
  readonly kind: CellKind
  /** Its initial value, or its natural zero. */
  readonly initial: V
  /** How far it is seen, as far as types can tell. */
  readonly reach: R
  /** Who sees it: anyone covered by at least one of these sights. */
  readonly sights: readonly Sight[]
  /** Known to types only. */
  readonly mark?: { readonly is: M }
  /** True if a value must be given when a row, event, draft or input is made. */
  readonly required: boolean
  /** Values that a page or an input generator may offer: those of a choice, or the bounds of a number. */
  readonly values?: readonly string[]
  /** The smallest value, or the shortest length of a list. */
  readonly least?: number
  /** The largest value, or the greatest length of a list. */
  readonly most?: number
  /** Sent at most once in this many ms: see {@link Numeric.latest}. */
  readonly every?: number
  /** The clock of a moment. */
  readonly clock?: ClockName
  /** The cell inside a list or a maybe. */
  readonly of?: AnyCell
  /** The table that a row reference refers to: of the rule itself, or of the rule named before the dot. */
  readonly table?: string
  /** What happens to the cell when the row that it refers to is removed. */
  readonly gone?: Gone
  /** Returns what is wrong with a value, as the end of a sentence, or nothing if it fits. */
  problem(value: unknown): string | undefined
  /** Says who sees the cell: anyone covered by at least one of these sights. Default: nobody. */
  seenBy<const S extends readonly Sight[]>(...sights: S): Cell<V, ReachOf<S>, M>
}
/** A cell of any kind, for code that does not know which. */
export type AnyCell = Cell<unknown, Reach, Mark>
/** The cells of a part, an event, a draft or an input, by name. */
export type Cells = { readonly [name: string]: AnyCell }

/** A cell that can be bounded: a number by its value, a list by its length. */
export interface Bounded<V, M extends Mark = never> extends Cell<V, 'nobody', M> {
  /** Returns the same cell with bounds, both inclusive. */
  between(least: number, most: number): Cell<V, 'nobody', M>
}

/** A number of the state that may change all the time, such as a position. */
export interface Numeric<V, M extends Mark = never> extends Bounded<V, M> {
  /** Returns the same cell with bounds, both inclusive. */
  between(least: number, most: number): Numeric<V, M>
  /**
   * Sends only the latest value: at most once in `every` ms of match time. Values in between are dropped, but the
   * last one is always sent, at `match.nextFlush`.
   */
  latest(every: number): Cell<V, 'nobody', M>
}

/** A choice. It lists its values, so that a mode names them once. */
export interface Choice<V extends string> extends Cell<V, 'nobody', 'required'> {
  /** All of its values. */
  readonly values: readonly V[]
}

/** A reference to a row. */
export interface Reference<V, M extends Mark = never> extends Cell<V, 'nobody', M> {
  /**
   * Says what happens to the cell when the row is removed. Default: `maybe` and `list` drop the reference; a plain
   * reference makes the removal an error.
   */
  whenGone(gone: Gone): Cell<V, 'nobody', M>
}

export type Made<V, M extends Mark> = Numeric<V, M> & Reference<V, M> & { readonly values: readonly string[] }
export interface CellParts {
  readonly kind: CellKind
  readonly initial: unknown
  readonly required: boolean
  readonly reach?: Reach
  readonly sights?: readonly Sight[]
  readonly values?: readonly string[]
  readonly least?: number
  readonly most?: number
  readonly every?: number
  readonly clock?: ClockName
  readonly of?: AnyCell
  readonly table?: string
  readonly gone?: Gone
  problem(value: unknown): string | undefined
}

/** The one place where a cell is made. Its type parameters are a promise that the builders below keep. */
export function cell<V, M extends Mark>(parts: CellParts): Made<V, M> {
  const made = {
    reach: 'nobody',
    sights: [],
    ...parts,
    seenBy: (...sights: readonly Sight[]) => cell({ ...parts, sights, reach: reachOf(sights) }),
    between: (least: number, most: number) =>
      cell({ ...parts, least, most, problem: bounded(parts, least, most) }),
    latest: (every: number) => {
      if (!Number.isSafeInteger(every) || every < 1) throw new RefereeError('ZR_STATE_BAD_RATE', { every })
      return cell({ ...parts, every })
    },
    whenGone: (gone: Gone) => cell({ ...parts, gone }),
  }
  return made as CellParts as Made<V, M>
}

function bounded(parts: CellParts, least: number, most: number): CellParts['problem'] {
  return (value) => {
    const problem = parts.problem(value)
    if (problem !== undefined) return problem
    const size = Array.isArray(value) ? value.length : Number(value)
    const what = Array.isArray(value) ? 'must have' : 'must be'
    return size < least || size > most ? `${what} ${least} to ${most}, not ${size}` : undefined
  }
}

/** Returns a value as a message shows it. */
export function shown(value: unknown): string {
  const text =
    typeof value === 'string' ? JSON.stringify(value) : isPlain(value) ? plainText(value) : String(value)
  return text.length > 60 ? `${text.slice(0, 57)}…` : text
}

const isPlain = (value: unknown): boolean =>
  Array.isArray(value) || Object.prototype.toString.call(value) === '[object Object]'

/** Something that JSON can't write, such as a circle, is shown by its kind. */
function plainText(value: unknown): string {
  try {
    return JSON.stringify(value) ?? 'nothing'
  } catch {
    return Array.isArray(value) ? 'a list that cannot be written' : 'an object that cannot be written'
  }
}
