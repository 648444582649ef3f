import type { steppingStones } from '@zinc-referee/examples'
import type { NoticeFor, ViewFor } from 'zinc-referee'
import { pageOf, type Seen } from '../face.tsx'
import { counted, nameIn, outcomeOf } from '../names.ts'
import { useOnlyTheirs } from '../only-there.tsx'
import { SeatMark } from '../seat-mark.tsx'
import { Board } from '../table/board.tsx'
import { TurnLine } from '../table/turn-line.tsx'
import { Lily } from './lily.tsx'
import './stones-face.css'

type StonesView = ViewFor<typeof steppingStones>

const called = (x: unknown, y: unknown): string => `${'abcdef'[Number(x)]}${Number(y) + 1}`

/** The pond: lilies float on it, and a stone can be laid wherever the server offers it. */
function Pond({ match, act, viewer }: Seen<StonesView>) {
  const { view } = match.replica
  const offers = act === undefined ? [] : (view.stones.options?.lay ?? [])
  const cells = Object.values(view.pond.cells).sort((a, b) => a.y - b.y || a.x - b.x)
  const isTheirs = useOnlyTheirs()
  const lilies = Object.entries(view.stones.lilies)
  return (
    <div class="pond-water">
      <Board
        label="The pond"
        columns={6}
        cells={cells.map(({ x, y, holder }) => {
          const where = called(x, y)
          const [id, lily] = lilies.find(([, each]) => each.x === x && each.y === y) ?? []
          if (lily !== undefined) {
            const owner = lily.of ?? undefined
            const whose =
              owner === undefined ? '' : owner === viewer ? ', yours' : `, ${nameIn(view, owner)}'s`
            const mark = owner === undefined || owner === viewer ? '' : (nameIn(view, owner)[0] ?? '')
            return {
              key: where,
              label: `${where}, a lily${whose}`,
              shows: (
                <Lily lit={owner !== undefined} mark={mark} isTheirs={isTheirs(`stones.lilies.${id}.of`)} />
              ),
            }
          }
          const isLast = where === view.stones.last.spot
          const isOffered = offers.some((offer) => offer.x === x && offer.y === y)
          return {
            key: where,
            label:
              holder === null
                ? isOffered
                  ? `lay on ${where}`
                  : where
                : `${where}, ${nameIn(view, holder)}${isLast ? ', laid last' : ''}`,
            isLast,
            shows:
              holder === null ? (
                <small class="spot">{where}</small>
              ) : (
                <SeatMark number={view.roster.seats[holder]?.number ?? 1} name={nameIn(view, holder)} />
              ),
            choose: isOffered ? () => act?.('stones.lay', { x, y }) : undefined,
          }
        })}
      />
    </div>
  )
}

function Sight(seen: Seen<StonesView>) {
  const { view } = seen.match.replica
  const lilies = Object.values(view.stones.lilies)
  return (
    <>
      <Pond {...seen} />
      <ul class="sides">
        {Object.entries(view.roster.seats).map(([seat, { number, name }]) => {
          const own = lilies.filter(({ of }) => of === seat).map(({ x, y }) => called(x, y))
          const stones = Object.values(view.pond.cells).filter(({ holder }) => holder === seat).length
          const known =
            own.length === 0 ? 'three lilies that you do not know' : `lilies ${own.toSorted().join(', ')}`
          return (
            <li key={seat}>
              <SeatMark number={number} name={name} />
              {name}
              {view.phases.now.phase !== 'lobby' && `: ${counted(stones, 'stone')}; ${known}`}
            </li>
          )
        })}
      </ul>
    </>
  )
}

export const stonesPage = pageOf<StonesView, NoticeFor<typeof steppingStones>>('stepping-stones', {
  Orders: ({ match }) => <TurnLine match={match} />,
  Sight,
  tell: () => undefined, // its rule says it all
  outcome: outcomeOf,
})
