import type { steppingStones } from '@zinc-referee/examples'
import type { NoticeFor, ViewFor } from 'zinc-referee'
import { pageOf, type Seen } from '../face.tsx'
import { nameIn, outcomeOf } from '../names.ts'
import { SeatMark } from '../seat-mark.tsx'
import { Board } from '../table/board.tsx'
import { TurnLine } from '../table/turn-line.tsx'
import './stones-face.css'

type StonesView = ViewFor<typeof steppingStones>

const called = (x: unknown, y: unknown): string => `${'abcde'[Number(x)]}${Number(y) + 1}`

/** The pond: a stone can be laid wherever the server offers it. */
function Pond({ match, act }: Seen<StonesView>) {
  const { view } = match.replica
  const offers = act === undefined ? [] : (view.stones.options?.lay ?? [])
  const cells = Object.values(view.pond.cells).sort((a, b) => a.y - b.y || a.x - b.x)
  return (
    <Board
      label="The pond"
      columns={1 + Math.max(...cells.map(({ x }) => x))}
      cells={cells.map(({ x, y, holder }) => {
        const where = called(x, y)
        const isOffered = offers.some((offer) => offer.x === x && offer.y === y)
        return {
          key: where,
          label:
            holder === null ? (isOffered ? `lay on ${where}` : where) : `${where}, ${nameIn(view, holder)}`,
          shows: holder !== null && (
            <SeatMark number={view.roster.seats[holder]?.number ?? 1} name={nameIn(view, holder)} />
          ),
          choose: isOffered ? () => act?.('stones.lay', { x, y }) : undefined,
        }
      })}
    />
  )
}

function Sight(seen: Seen<StonesView>) {
  const { view } = seen.match.replica
  return (
    <>
      <Pond {...seen} />
      <ul class="sides">
        {Object.entries(view.stones.banks).map(([seat, { from, to }]) => {
          const stones = Object.values(view.pond.cells).filter(({ holder }) => holder === seat).length
          return (
            <li key={seat}>
              <SeatMark number={view.roster.seats[seat]?.number ?? 1} name={nameIn(view, seat)} />
              {nameIn(view, seat)} joins {from} and {to}; {stones} {stones === 1 ? 'stone' : 'stones'}
            </li>
          )
        })}
      </ul>
    </>
  )
}

function tell({ name, cells }: NoticeFor<typeof steppingStones>, view: StonesView): string | undefined {
  const who = (seat: unknown): string => nameIn(view, String(seat))
  switch (name) {
    case 'pond.placed':
      return `${who(cells.seat)} lays on ${called(cells.x, cells.y)}`
    case 'turns.ended':
      return cells.why === 'stuck' ? `${who(cells.seat)} cannot lay, and passes` : undefined
    default:
      return undefined
  }
}

export const stonesPage = pageOf<StonesView, NoticeFor<typeof steppingStones>>('stepping-stones', {
  Orders: ({ match }) => <TurnLine match={match} />,
  Sight,
  tell,
  outcome: outcomeOf,
})
