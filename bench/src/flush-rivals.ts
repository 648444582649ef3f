import jsonPatch from 'fast-json-patch'
import { produce } from 'immer'
import type { Change, World } from './world.js'

/** As one would write it by hand: for each viewer a list of the operations that it may see. */
export function handWritten({ viewers }: World, changes: readonly Change[]): number {
  let sent = 0
  for (const viewer of viewers) {
    const operations = []
    for (const { op, path, value } of changes) {
      const [, , , row, cell] = path.split('/')
      if (cell === 'course' || (cell === 'cargo' && row !== viewer)) continue
      operations.push({ op, path, value })
    }
    if (operations.length > 0) sent += JSON.stringify(operations).length
  }
  return sent
}

type Rows = Record<string, Record<string, number | string>>
interface State {
  readonly raft: Rows
  readonly crates: Rows
}

/** State as an immutable tree, a filtered copy of it for each viewer, and the difference from its last one. */
export function naive({ match, viewers }: World): (changes: readonly Change[]) => number {
  const { raft, crates } = match.state.drift
  const rafts = match.seats.map((seat) => {
    const { x, y, health, cargo, course } = raft.of(seat)
    return [seat, { x, y, health, cargo, course }] as const
  })
  let state: State = {
    raft: Object.fromEntries(rafts),
    crates: Object.fromEntries(crates.all().map(({ id, x, y, from }) => [id, { x, y, from }])),
  }
  const known = new Map(viewers.map((viewer) => [viewer, filtered(state, viewer)]))
  return (changes) => {
    state = produce(state, (draft) => {
      for (const { path, value } of changes) {
        const [, , part, id = '', cell = ''] = path.split('/')
        const row = draft[part === 'raft' ? 'raft' : 'crates'][id]
        if (row !== undefined) row[cell] = value
      }
    })
    let sent = 0
    for (const viewer of viewers) {
      const view = filtered(state, viewer)
      const operations = jsonPatch.compare(known.get(viewer) ?? {}, view)
      known.set(viewer, view)
      if (operations.length > 0) sent += JSON.stringify(operations).length
    }
    return sent
  }
}

function filtered({ raft, crates }: State, viewer: string): object {
  const rafts = Object.entries(raft).map(([id, { course: _course, cargo, ...row }]) => [
    id,
    id === viewer ? { ...row, cargo } : row,
  ])
  return { drift: { raft: Object.fromEntries(rafts), crates: { ...crates } } }
}
