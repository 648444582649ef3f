import { beginMatch, replayRecord } from 'zinc-referee'
import { applyPatch, operationsOf } from 'zinc-referee/replica'
import { applied } from '../fixtures/applied.ts'
import type { Move } from './describe-book.ts'

export const SEATS = ['otter', 'heron', 'a/b~"c" ñ🦦']
export const VIEWERS = [...SEATS, 'spectator', 'server']

/** A match of a generated rulebook with its record, its seats taken, and viewers whose copies are kept by two appliers. */
export function setTable(book: any, keepsCopies = true) {
  const lines: string[] = []
  const match: any = beginMatch(book, { seed: 'fair-1', record: (line) => lines.push(line) })
  for (const seat of SEATS) match.direct('roster.join', { seat, name: 'Same' })
  const copies = new Map<string, [unknown, unknown]>()
  const sent = new Map<string, string>()
  for (const viewer of VIEWERS) {
    const { view } = match.addViewer(viewer)
    copies.set(viewer, [JSON.parse(view), JSON.parse(view)])
    sent.set(viewer, view)
  }
  const flush = (): readonly any[] => {
    const updates = match.flush({ all: true })
    for (const update of updates) {
      const { viewer, patch, latest, notices } = update
      sent.set(viewer, `${sent.get(viewer)}\n${patch}${latest}${JSON.stringify(notices)}`)
      if (!keepsCopies) continue
      const [ours, theirs] = copies.get(viewer) as [object, object]
      copies.set(viewer, [applyPatch(ours, operationsOf(update)), applied(theirs, update)])
    }
    return updates
  }
  return {
    match,
    flush,
    /** Everything that a viewer was sent. */
    sentTo: (viewer: string): string => sent.get(viewer) ?? '',
    copies,
    replay: () => replayRecord(book, lines.join('\n')),
  }
}
export type Table = ReturnType<typeof setTable>

/** Plays a history; `before` and `after` stand around each input. */
export function play(
  table: Table,
  history: readonly Move[],
  watch: (move: Move, step: () => any) => void,
): void {
  for (const move of history) {
    if (move.flush) table.flush()
    table.match.advanceTo(table.match.now + move.wait)
    watch(move, () => table.match.direct('maze.act', move.deeds))
  }
  table.flush()
}
