import { expect, test } from 'vitest'
import { buildBook, type Salt } from './generated/build-book.ts'
import type { BookData, Move } from './generated/describe-book.ts'
import { expectCurrent, forAll, LIMIT } from './generated/for-all.ts'
import { play, SEATS, setTable, type Table } from './generated/play-history.ts'

test(
  'a value hidden from a viewer changes no byte that the viewer is sent, whenever flushes come',
  () => {
    forAll((data, histories) => {
      const hidden = hiddenFromHeron(data)
      const books = [buildBook(data, true), buildBook(data, true, hidden)]
      for (const moves of histories) {
        const quiet = moves.map((move) => ({ ...move, deeds: move.deeds.filter(keepsHeronOut) }))
        const [plain, salted] = books.map((book) => {
          const table = setTable(book)
          play(table, quiet, (_move, step) => step())
          expectCurrent(table)
          return table
        }) as [Table, Table]
        expect(salted.sentTo('heron')).toBe(plain.sentTo('heron'))
      }
    })
  },
  LIMIT,
)

/** Adds 1 to what Heron can never see: hidden cells, those of groups that Heron is not in, and others' own. */
function hiddenFromHeron(data: BookData): Salt {
  return (part, n, seat) => {
    if (part < 0) return n === 0 && seat === 'heron' ? 0 : 1
    const { kind = 'single', cells = [] } = data.parts[part] ?? {}
    const cell = cells[n]
    // What decides who else sees it, or what an index or another row hangs on, may show in other ways.
    if (cell === undefined || cell.kind === 'row' || cell.kind === 'rows') return 0
    if (cell.sight === 'nobody' || cell.sight === 'group') return 1
    if (cell.sight === 'owner' && kind === 'single') return 1
    if (cell.sight === 'side' && kind === 'single') return 1
    const own = cell.sight === 'owner' || cell.sight === 'owner or group'
    return own && kind === 'perSeat' && seat !== undefined && seat !== 'heron' ? 1 : 0
  }
}

const keepsHeronOut = (deed: Move['deeds'][number]): boolean =>
  !(deed.do === 'member' && SEATS[deed.row % SEATS.length] === 'heron')
