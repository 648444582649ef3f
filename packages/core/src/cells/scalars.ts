import { type ClockName, clockNames, RefereeError } from '../kit/index.ts'
import type { Seat } from './audience.ts'
import {
  type Bounded,
  type Cell,
  type Choice,
  cell,
  type Made,
  type Numeric,
  type OnClock,
  type Reference,
  shown,
} from './cell.ts'

const wholeProblem = (value: unknown): string | undefined =>
  Number.isSafeInteger(value) ? undefined : `must be a whole number, not ${shown(value)}`
/** Half of a surrogate pair would be sent as something else (RFC 8259, 8.2). */
const HALF = /\p{Surrogate}/u
/** A text is sent to every viewer. A megabyte of it, by mistake or by a malicious client, is refused. */
const MAX_TEXT = 65_536
const textProblem = (value: unknown): string | undefined => {
  if (typeof value !== 'string') return `must be text, not ${shown(value)}`
  if (value.length > MAX_TEXT) return `must have at most ${MAX_TEXT} characters, not ${value.length}`
  return HALF.test(value) ? 'has half of a surrogate pair, which is not a character' : undefined
}

/** The lookup checks that the seat exists, not this. */
const seatProblem = (value: unknown): string | undefined =>
  typeof value === 'string' ? undefined : `must be a seat, not ${shown(value)}`

/** A whole number within ±(2^53 − 1). `first`: its initial value. */
export function int(): Numeric<number, 'required'>
export function int(first: number): Numeric<number>
export function int(first?: number): Numeric<number, 'required'> {
  return cell({ kind: 'int', initial: first ?? 0, required: first === undefined, problem: wholeProblem })
}

/** A finite number. −0 is stored as 0. */
export function num(): Numeric<number, 'required'>
export function num(first: number): Numeric<number>
export function num(first?: number): Numeric<number, 'required'> {
  const problem = (value: unknown) =>
    Number.isFinite(value) ? undefined : `must be a finite number, not ${shown(value)}`
  return cell({ kind: 'num', initial: first ?? 0, required: first === undefined, problem })
}

/**
 * A whole number of a draft, which amendments may add to, multiply and bound. Below its `between`, the draft is
 * refused as `bad-input`.
 */
export function amount(): Bounded<number, 'required' | 'amount'>
export function amount(first: number): Bounded<number, 'amount'>
export function amount(first?: number): Bounded<number, 'required' | 'amount'> {
  return cell({ kind: 'amount', initial: first ?? 0, required: first === undefined, problem: wholeProblem })
}

/** A cell that holds text. `first`: its initial value. Without it, a value must be given. */
export function text(): Cell<string, 'nobody', 'required'>
export function text(first: string): Cell<string>
export function text(first?: string): Cell<string, 'nobody', 'required'> {
  return cell({ kind: 'text', initial: first ?? '', required: first === undefined, problem: textProblem })
}

/** A cell that holds true or false. `first`: its initial value. Without it, a value must be given. */
export function flag(): Cell<boolean, 'nobody', 'required'>
export function flag(first: boolean): Cell<boolean>
export function flag(first?: boolean): Cell<boolean, 'nobody', 'required'> {
  const problem = (value: unknown) =>
    typeof value === 'boolean' ? undefined : `must be true or false, not ${shown(value)}`
  return cell({ kind: 'flag', initial: first ?? false, required: first === undefined, problem })
}

/** One of these words. In `perSeat` and `single` its initial value is the first one listed. */
export function choice<const V extends string>(...values: readonly V[]): Choice<V> {
  const among: ReadonlySet<unknown> = new Set(values)
  const problem = (value: unknown) =>
    among.has(value) ? undefined : `must be one of ${values.join(', ')}, not ${shown(value)}`
  const made: Made<V, 'required'> = cell({
    kind: 'choice',
    initial: values[0],
    required: true,
    values,
    problem,
  })
  return made as Made<V, 'required'> & { readonly values: readonly V[] }
}

/** A moment in the time of a clock (ms), or none. Default: play time. */
export function time<const C extends ClockName = 'play'>(
  clock: C = 'play' as C, // the default of C
): Cell<number | undefined, 'nobody', OnClock<C>> {
  if (!clockNames.includes(clock))
    throw new RefereeError('ZR_STATE_UNKNOWN_CLOCK', { clock, known: clockNames })
  return cell({
    kind: 'time',
    clock,
    initial: undefined,
    required: false,
    problem: (value) => (value === undefined ? undefined : wholeProblem(value)),
  })
}

/** A seat of the match. In an input it must exist, otherwise the ruling is `no-such-target`. */
export function seatRef(): Cell<Seat, 'nobody', 'required' | 'no-zero' | 'seat'> {
  return cell({ kind: 'seat', initial: undefined, required: true, problem: seatProblem })
}

/**
 * A reference to a row of the rule's own table. In an input, the asker must see the row, otherwise the ruling is `no-
 * such-target`. In state it follows its row; a viewer who does not see that row gets null.
 */
export function rowOf(table: string): Reference<string, 'required' | 'no-zero'>
/** A reference to a row of another rule's table. */
export function rowOf<St>(
  rule: { readonly name: string; readonly spec?: { readonly is: { readonly state: St } } },
  table: keyof St & string,
): Reference<string, 'required' | 'no-zero'>
export function rowOf(
  rule: string | { readonly name: string },
  table?: string,
): Reference<string, 'required' | 'no-zero'> {
  const where = typeof rule === 'string' ? rule : `${rule.name}.${table}`
  return cell({
    kind: 'row',
    initial: undefined,
    required: true,
    table: where,
    problem: textProblem,
  })
}
