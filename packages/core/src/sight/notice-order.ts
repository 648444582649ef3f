import type { Notice, PendingNotice } from './notices.ts'

const DIGITS = 17

/**
 * Returns the key that sorts a notice among others of its event and step: its content, with seats and numbers by
 * their value.
 */
function noticeKey({ cells }: Notice, seats: SeatNumbers): string {
  const padded = (n: number): string => String(n).padStart(DIGITS)
  const sortable = (_member: string, value: unknown): unknown => {
    if (typeof value === 'number') return `#${padded(value)}`
    if (typeof value !== 'string') return value
    const number = seats.number(value)
    return number === 0 ? `"${value}` : padded(number)
  }
  return JSON.stringify(cells, sortable) // all have the same cells in the same order
}

/** Numbers of seats and of their players; 0 for a viewer without a seat. */
export interface SeatNumbers {
  number(seat: string): number
  player(seat: string): number
}

/**
 * Returns one viewer's notices in the order of the steps. Notices of one event in one step are sorted by content,
 * because the order in which rows were handled could reveal hidden values. Those for everyone are sorted already.
 */
export function noticesFor(
  pending: readonly PendingNotice[],
  viewer: string,
  seats: SeatNumbers,
): readonly Notice[] {
  const player = seats.player(viewer)
  const got: { readonly each: PendingNotice; readonly notice: Notice }[] = []
  for (const each of pending) {
    const notice = each.for(viewer, player)
    if (notice !== undefined) got.push({ each, notice })
  }
  sortAlike(
    got,
    ({ each }) => !each.isForAll && each,
    ({ notice }) => keyOf(notice, seats),
  )
  return got.map(({ notice }) => notice)
}

/** Sorts those of which all viewers get the same notice, once for all of them. */
export const sortForAll = (pending: PendingNotice[], seats: SeatNumbers): void =>
  sortAlike(
    pending,
    (each) => each.isForAll && each,
    (each) => keyOf(each.forAll(), seats),
  )

/** Returns a viewer's notices until it lost its seat. They name no rows any more. */
export const partingNotices = (
  pending: readonly PendingNotice[],
  viewer: string,
  player: number,
): readonly Notice[] => pending.flatMap((each) => each.for(viewer, player, false) ?? [])

/** Sorts items of one event in one step among themselves; an item that is of none stays where it is. */
function sortAlike<T>(
  items: T[],
  eventOf: (item: T) => false | { readonly step: number; readonly name: string },
  key: (item: T) => string,
): void {
  const groups = new Map<string, number[]>()
  for (const [at, item] of items.entries()) {
    const event = eventOf(item)
    if (!event) continue
    const group = `${event.step} ${event.name}`
    const places = groups.get(group)
    if (places === undefined) groups.set(group, [at])
    else places.push(at)
  }
  for (const places of groups.values()) {
    if (places.length < 2) continue
    const keyed = places.map((at) => ({ item: items[at] as T, key: key(items[at] as T) }))
    keyed.sort((a, b) => (a.key < b.key ? -1 : a.key > b.key ? 1 : 0))
    for (const [place, { item }] of keyed.entries()) items[places[place] as number] = item
  }
}

/** Viewers who get the same notices share them, so a notice's key is made once. */
const keys: WeakMap<Notice, string> = new WeakMap()

function keyOf(notice: Notice, seats: SeatNumbers): string {
  const known = keys.get(notice)
  if (known !== undefined) return known
  const key = noticeKey(notice, seats)
  keys.set(notice, key)
  return key
}
