import { RefereeError } from '../kit/index.ts'
import { type Reach, type ReachOf, reachOf, type Sight } from './sights.ts'

/**
 * What types must know of a cell beside its value: no first value was written (`required`), it has not even a natural
 * one such as 0 or '' (`no-zero`), it holds a seat, or it is an amount that amendments may adjust.
 */
export type Mark = 'required' | 'no-zero' | 'seat' | 'amount'

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

/** When a row is removed that a state cell names: the cell lets go of it, the removal is an error, or its own row goes too. */
export type Gone = 'clear' | 'forbid' | 'cascade'

/** One declared value: of a row, an event, a draft or an input. Nobody sees it unless `seenBy` says who. */
export interface Cell<V, R extends Reach = 'nobody', M extends Mark = never> {
  /** What it holds. */
  readonly kind: CellKind
  /** The value it begins with, or its natural zero. */
  readonly initial: V
  /** How far it is seen, as far as types can know. */
  readonly reach: R
  /** Whoever is meant by one of these sees it. */
  readonly sights: readonly Sight[]
  /** Known to types only. */
  readonly mark?: { readonly is: M }
  /** Whether a value must be given where one is made. */
  readonly required: boolean
  /** What a page or a generator of play may offer: the values of a choice, the bounds of a number. */
  readonly values?: readonly string[]
  /** The least value, or the least length of a list. */
  readonly least?: number
  /** The greatest value, or the greatest length of a list. */
  readonly most?: number
  /** Sent at most once in this many ms: see {@link Numeric.latest}. */
  readonly every?: number
  /** The cell inside a list or a maybe. */
  readonly of?: AnyCell
  /** The table of a row's id: of the rule itself, or of the rule named before the dot. */
  readonly table?: string
  /** What becomes of a state cell when the row that it names is removed. */
  readonly gone?: Gone
  /** What is wrong with a value, as the end of a sentence; nothing when it fits. */
  problem(value: unknown): string | undefined
  /** Several together: whoever is meant by one of them. */
  seenBy<const S extends readonly Sight[]>(...sights: S): Cell<V, ReachOf<S>, M>
}
/** A cell of any kind, for code that does not know which. */
export type AnyCell = Cell<unknown, Reach, Mark>
/** The cells of a part, an event, a draft or an input, by name. */
export type Cells = { readonly [name: string]: AnyCell }

/** Numbers and lists can be bounded: their value, or their length. */
export interface Bounded<V, M extends Mark = never> extends Cell<V, 'nobody', M> {
  /** The same with bounds: both ends are allowed. */
  between(least: number, most: number): Cell<V, 'nobody', M>
}

/** Numbers of the state that change all the time, such as positions, need not be told each time. */
export interface Numeric<V, M extends Mark = never> extends Bounded<V, M> {
  /** The same with bounds: both ends are allowed. */
  between(least: number, most: number): Numeric<V, M>
  /**
   * Only its latest value counts: a flush tells it at most once in `every` ms of match time and drops the values between;
   * the last one is always told in the end, at `match.nextFlush`.
   */
  latest(every: number): Cell<V, 'nobody', M>
}

/** A choice lists its values, so that a mode names them once. */
export interface Choice<V extends string> extends Cell<V, 'nobody', 'required'> {
  /** All that it can be. */
  readonly values: readonly V[]
}

/** A reference to a row, which may say what becomes of it. */
export interface Reference<V, M extends Mark = never> extends Cell<V, 'nobody', M> {
  /** Default: `maybe` and `list` let go of the row, a bare reference forbids its removal. */
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
  readonly of?: AnyCell
  readonly table?: string
  readonly gone?: Gone
  problem(value: unknown): string | undefined
}

/** The one place where a cell is made; its type parameters are a promise that the builders below keep. */
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

/** A value as it may be shown in a message. */
export function shown(value: unknown): string {
  const text =
    typeof value === 'string' ? JSON.stringify(value) : isPlain(value) ? plainText(value) : String(value)
  return text.length > 60 ? `${text.slice(0, 57)}…` : text
}

const isPlain = (value: unknown): boolean =>
  Array.isArray(value) || Object.prototype.toString.call(value) === '[object Object]'

/** Something that cannot be written, such as a circle, is named by its kind. */
function plainText(value: unknown): string {
  try {
    return JSON.stringify(value) ?? 'nothing'
  } catch {
    return Array.isArray(value) ? 'a list that cannot be written' : 'an object that cannot be written'
  }
}
