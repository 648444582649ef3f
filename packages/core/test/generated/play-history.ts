import jsonPatch from 'fast-json-patch'
import { beginMatch, replayRecord } from 'zinc-referee'
import { applyPatch } from 'zinc-referee/replica'
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
    const updates = match.flush()
    for (const { viewer, patch, notices } of updates) {
      sent.set(viewer, `${sent.get(viewer)}\n${patch}${JSON.stringify(notices)}`)
      if (!keepsCopies) continue
      const [ours, theirs] = copies.get(viewer) as [object, object]
      const operations = JSON.parse(patch)
      copies.set(viewer, [
        applyPatch(ours, operations),
        jsonPatch.applyPatch(theirs, JSON.parse(patch)).newDocument, // ours has checked that it fits
      ])
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
