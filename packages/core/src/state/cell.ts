/** A seat's id: who sits there may change, the id does not. */
export type Seat = string

/** How far a sight can reach, as far as types can know. `owner` and `some` reach some viewers. */
export type Reach = 'nobody' | 'owner' | 'some' | 'everyone'

/** Who may see a cell. */
export interface Sight<R extends Reach = Reach> {
  readonly reach: R
  /** The setting that names it, where a rule leaves it to the rulebook. */
  readonly setting?: string
}

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
  | 'maybe'

/** One declared value: of a row, an event, a draft or an input. Nobody sees it unless `seenBy` says who. */
export interface Cell<V, R extends Reach = 'nobody', M extends Mark = never> {
  readonly kind: CellKind
  /** The value it begins with, or its natural zero. */
  readonly initial: V
  readonly reach: R
  /** The setting of the rule that says how far it reaches. */
  readonly reachSetting?: string
  /** Known to types only. */
  readonly mark?: { readonly is: M }
  /** Whether a value must be handed over where one is made. */
  readonly required: boolean
  /** What a page or a generator of play may offer: the values of a choice, the bounds of a number. */
  readonly values?: readonly string[]
  readonly least?: number
  readonly most?: number
  /** The cell inside a list or a maybe. */
  readonly of?: AnyCell
  /** The table of a row's id: of the rule itself, or of the rule named before the dot. */
  readonly table?: string
  /** What is wrong with a value, as the end of a sentence; nothing when it fits. */
  trouble(value: unknown): string | undefined
  seenBy<R2 extends Reach>(sight: Sight<R2>): Cell<V, R2, M>
}
export type AnyCell = Cell<unknown, Reach, Mark>
export type Cells = { readonly [name: string]: AnyCell }

/** Numbers and lists can be bounded: their value, or their length. */
export interface Bounded<V, M extends Mark = never> extends Cell<V, 'nobody', M> {
  between(least: number, most: number): Cell<V, 'nobody', M>
}

type Made<V, M extends Mark> = Bounded<V, M> & { readonly values: readonly string[] }
interface Parts {
  readonly kind: CellKind
  readonly initial: unknown
  readonly required: boolean
  readonly reach?: Reach
  readonly reachSetting?: string
  readonly values?: readonly string[]
  readonly least?: number
  readonly most?: number
  readonly of?: AnyCell
  readonly table?: string
  trouble(value: unknown): string | undefined
}

/** The one place where a cell is made; its type parameters are a promise that the builders below keep. */
function cell<V, M extends Mark>(parts: Parts): Made<V, M> {
  const made = {
    reach: 'nobody',
    ...parts,
    seenBy: ({ reach, setting }: Sight) =>
      cell({ ...parts, reach, ...(setting === undefined ? {} : { reachSetting: setting }) }),
    between: (least: number, most: number) =>
      cell({ ...parts, least, most, trouble: bounded(parts, least, most) }),
  }
  return made as Parts as Made<V, M>
}

function bounded(parts: Parts, least: number, most: number): Parts['trouble'] {
  return (value) => {
    const trouble = parts.trouble(value)
    if (trouble !== undefined) return trouble
    const size = Array.isArray(value) ? value.length : Number(value)
    const what = Array.isArray(value) ? 'must have' : 'must be'
    return size < least || size > most ? `${what} ${least} to ${most}, not ${size}` : undefined
  }
}

/** A value as it may be shown in a message. */
export function shown(value: unknown): string {
  const text =
    typeof value === 'string'
      ? JSON.stringify(value)
      : typeof value === 'object' && value !== null
        ? JSON.stringify(value)
        : String(value)
  return text.length > 60 ? `${text.slice(0, 57)}…` : text
}

const wholeTrouble = (value: unknown): string | undefined =>
  Number.isSafeInteger(value) ? undefined : `must be a whole number, not ${shown(value)}`
const textTrouble = (value: unknown): string | undefined =>
  typeof value === 'string' ? undefined : `must be text, not ${shown(value)}`

/** A whole number within ±(2^53 − 1). */
export function int(): Bounded<number, 'required'>
export function int(first: number): Bounded<number>
export function int(first?: number): Bounded<number, 'required'> {
  return cell({ kind: 'int', initial: first ?? 0, required: first === undefined, trouble: wholeTrouble })
}

/** A finite number; −0 is kept as 0. */
export function num(): Bounded<number, 'required'>
export function num(first: number): Bounded<number>
export function num(first?: number): Bounded<number, 'required'> {
  const trouble = (value: unknown) =>
    Number.isFinite(value) ? undefined : `must be a finite number, not ${shown(value)}`
  return cell({ kind: 'num', initial: first ?? 0, required: first === undefined, trouble })
}

/** A whole number of a draft which amendments may add to, multiply and bound. Below its `between` the draft is refused as `bad-input`. */
export function amount(): Bounded<number, 'required' | 'amount'>
export function amount(first: number): Bounded<number, 'amount'>
export function amount(first?: number): Bounded<number, 'required' | 'amount'> {
  return cell({ kind: 'amount', initial: first ?? 0, required: first === undefined, trouble: wholeTrouble })
}

export function text(): Cell<string, 'nobody', 'required'>
export function text(first: string): Cell<string>
export function text(first?: string): Cell<string, 'nobody', 'required'> {
  return cell({ kind: 'text', initial: first ?? '', required: first === undefined, trouble: textTrouble })
}

export function flag(): Cell<boolean, 'nobody', 'required'>
export function flag(first: boolean): Cell<boolean>
export function flag(first?: boolean): Cell<boolean, 'nobody', 'required'> {
  const trouble = (value: unknown) =>
    typeof value === 'boolean' ? undefined : `must be true or false, not ${shown(value)}`
  return cell({ kind: 'flag', initial: first ?? false, required: first === undefined, trouble })
}

/** A choice lists its values, so that a mode names them once. */
export interface Choice<V extends string> extends Cell<V, 'nobody', 'required'> {
  readonly values: readonly V[]
}
/** One of these words. In `perSeat` and `single` it begins as the first one listed. */
export function choice<const V extends string>(...values: readonly V[]): Choice<V> {
  const among: ReadonlySet<unknown> = new Set(values)
  const trouble = (value: unknown) =>
    among.has(value) ? undefined : `must be one of ${values.join(', ')}, not ${shown(value)}`
  const made: Made<V, 'required'> = cell({
    kind: 'choice',
    initial: values[0],
    required: true,
    values,
    trouble,
  })
  return made as Made<V, 'required'> & { readonly values: readonly V[] }
}

/** A moment in clock time (ms), or none. */
export function time(): Cell<number | undefined> {
  return cell({
    kind: 'time',
    initial: undefined,
    required: false,
    trouble: (value) => (value === undefined ? undefined : wholeTrouble(value)),
  })
}

/** A seat of the match. In an input it must be one that exists, else the ruling is `no-such-target`. */
export function seatRef(): Cell<Seat, 'nobody', 'required' | 'no-zero' | 'seat'> {
  return cell({ kind: 'seat', initial: undefined, required: true, trouble: textTrouble })
}

/** The public id of a row of one's own table, in an input: it resolves only where the asker sees the row, else the ruling is `no-such-target`. */
export function rowOf(table: string): Cell<string, 'nobody', 'required' | 'no-zero'>
/** The same for a row of another rule's table. */
export function rowOf<St>(
  rule: { readonly name: string; readonly spec?: { readonly is: { readonly state: St } } },
  table: keyof St & string,
): Cell<string, 'nobody', 'required' | 'no-zero'>
export function rowOf(
  rule: string | { readonly name: string },
  table?: string,
): Cell<string, 'nobody', 'required' | 'no-zero'> {
  const where = typeof rule === 'string' ? rule : `${rule.name}.${table}`
  return cell({ kind: 'row', initial: undefined, required: true, table: where, trouble: textTrouble })
}

/** Several of one kind, in an order. A written list is copied and frozen. */
export function list<V>(of: Cell<V, Reach, Mark>): Bounded<readonly V[], 'required'>
export function list<V>(of: Cell<V, Reach, Mark>, first: readonly NoInfer<V>[]): Bounded<readonly V[]>
export function list<V>(of: Cell<V, Reach, Mark>, first?: readonly V[]): Bounded<readonly V[], 'required'> {
  const trouble = (value: unknown) => {
    if (!Array.isArray(value)) return `must be a list, not ${shown(value)}`
    for (const [at, item] of value.entries()) {
      const inner = of.trouble(item)
      if (inner !== undefined) return `has an item ${at} that ${inner}`
    }
    return undefined
  }
  return cell({
    kind: 'list',
    initial: Object.freeze([...(first ?? [])]),
    required: first === undefined,
    of,
    trouble,
  })
}

/** The same, or nothing. */
export function maybe<V, M extends Mark>(
  of: Cell<V, Reach, M>,
): Cell<V | undefined, 'nobody', Extract<M, 'seat'>> {
  return cell({
    kind: 'maybe',
    initial: undefined,
    required: false,
    of,
    trouble: (value) => (value === undefined ? undefined : of.trouble(value)),
  })
}
