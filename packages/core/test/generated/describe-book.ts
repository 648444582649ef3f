import fc from 'fast-check'

/** A rulebook as data: what is drawn at random, shrunk, and printed when a law does not hold. */
export interface BookData {
  readonly parts: readonly PartData[]
}
export interface PartData {
  readonly kind: 'perSeat' | 'single' | 'table'
  readonly cells: readonly CellData[]
  readonly span: 'round' | 'bout' | 'match'
  /** Which of the policies stands for a cell, by its number; only of cells whose sight says so. */
  readonly indexed: boolean
  /** Whether views have something beside the cells that hangs on another rule's state. */
  readonly derives: boolean
}
export interface CellData {
  readonly kind: (typeof kinds)[number]
  readonly sight: (typeof sights)[number]
  readonly policy: number
  readonly gone: 'clear' | 'cascade'
  readonly mask: 'none' | 'everyone' | 'sedges'
}

export const kinds = [
  'int',
  'num',
  'latest',
  'latest num',
  'text',
  'flag',
  'choice',
  'time',
  'seat',
  'row',
  'rows',
  'list',
  'set',
  'map',
  'json',
] as const
export const sights = ['nobody', 'everyone', 'owner', 'group', 'side', 'owner or group', 'policy'] as const
export const POLICIES = 7
export const GROUPS = ['reeds', 'sedges'] as const

const cell: fc.Arbitrary<CellData> = fc.record({
  kind: fc.constantFrom(...kinds),
  sight: fc.constantFrom(...sights),
  policy: fc.nat(POLICIES - 1),
  gone: fc.constantFrom('clear', 'cascade'),
  mask: fc.constantFrom('none', 'none', 'none', 'everyone', 'sedges'),
})
const part: fc.Arbitrary<PartData> = fc.record({
  kind: fc.constantFrom('perSeat', 'single', 'table', 'table'),
  cells: fc.oneof(
    { weight: 9, arbitrary: fc.array(cell, { minLength: 1, maxLength: 6 }) },
    { weight: 1, arbitrary: fc.array(cell, { minLength: 31, maxLength: 34 }) },
  ),
  span: fc.constantFrom('round', 'bout', 'match'),
  indexed: fc.boolean(),
  derives: fc.boolean(),
})
export const bookData: fc.Arbitrary<BookData> = fc.record({
  parts: fc.array(part, { minLength: 1, maxLength: 3 }),
})

/** What one input does, as data: a list of these in one step. */
export interface Deed {
  readonly do: (typeof deeds)[number]
  readonly part: number
  readonly row: number
  readonly cell: number
  readonly value: number
}
const deeds = [
  'write',
  'write',
  'write',
  'insert',
  'insert',
  'remove',
  'renew',
  'reverse',
  'member',
  'side',
  'timer',
  'beat',
  'cancel',
  'draw',
  'tell',
  'draft',
  'span',
  'throw',
  'refuse',
] as const
/** An input of a history: what it does, how long before it time runs, and whether what changed is sent before it. */
export interface Move {
  readonly deeds: readonly Deed[]
  readonly wait: number
  readonly flush: boolean
}
export const history: fc.Arbitrary<readonly Move[]> = fc.array(
  fc.record({
    deeds: fc.array(
      fc.record({
        do: fc.constantFrom(...deeds),
        part: fc.nat(3),
        row: fc.nat(5),
        cell: fc.nat(35),
        value: fc.nat(12),
      }),
      { minLength: 1, maxLength: 4 },
    ),
    wait: fc.constantFrom(0, 0, 1, 40, 3000),
    flush: fc.boolean(),
  }),
  { minLength: 1, maxLength: 7 },
)
