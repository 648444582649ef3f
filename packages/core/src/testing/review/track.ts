import { type RecordContent, readRecord } from '../../record/index.ts'
import { type Operation, operationsOf } from '../../replica/index.ts'
import { type AnyRulebook, type AnyView, openRecorded, replayLine } from '../../rulebook/index.ts'
import { InnerIds } from './inner-ids.ts'
import { playedPositions } from './positions.ts'

/** What one viewer was sent in a match, by position. */
export interface Track {
  /** A seat, or `spectator`. */
  readonly viewer: string
  /** The position from which on there is a view. */
  readonly from: number
  /** The view there; nothing if the viewer never came. */
  readonly view?: AnyView
  /** The operations on the view at each later position at which there were any. */
  readonly changes: readonly (readonly [position: number, operations: readonly Operation[]])[]
  /** The last position of a seat that has left, and whose id is free again. */
  readonly until?: number
}

/**
 * Plays a record again, and returns what these viewers were sent: seats, 'spectator', 'server'. Rows go by their inner ids, so
 * that one row is the same for all of them.
 * @throws what `replayRecord` throws
 */
export function tracksOf(
  book: AnyRulebook,
  record: string | RecordContent,
  viewers: readonly string[],
): readonly Track[] {
  const content = typeof record === 'string' ? readRecord(record) : record
  const { match, engine } = openRecorded(book, content)
  const ids = new Map(viewers.map((viewer) => [viewer, new InnerIds(engine, viewer)] as const))
  const tracks = new Map(
    viewers.map((viewer) => [viewer, { viewer, from: 0, changes: [] } as Writable<Track>] as const),
  )
  const isThere = (viewer: string): boolean =>
    viewer === 'spectator' || viewer === 'server' || match.allSeats.includes(viewer)
  let at = 0
  for (const _ of playedPositions(match, content, (line) => replayLine(match, line))) {
    for (const { viewer, patch, latest } of match.flush({ all: true })) {
      const own = ids.get(viewer)
      const operations = operationsOf({ patch, ...(latest && { latest }) }).map((each) => ({
        ...each,
        path: own?.path(each.path) ?? each.path,
        ...('value' in each && { value: own?.value(each.value) }),
      }))
      if (operations.length > 0) tracks.get(viewer)?.changes.push([at, operations])
    }
    for (const [viewer, track] of tracks) {
      const isOpen = match.viewers.includes(viewer)
      if (track.view === undefined && isThere(viewer)) {
        const view: AnyView = JSON.parse(match.addViewer(viewer).view)
        track.view = ids.get(viewer)?.view(view) ?? view
        track.from = at
      } else if (track.view !== undefined && !isOpen && track.until === undefined) track.until = at
    }
    at++
  }
  return [...tracks.values()]
}

type Writable<T> = { -readonly [K in keyof T]: T[K] extends readonly (infer E)[] ? E[] : T[K] }
