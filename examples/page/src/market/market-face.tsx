import type { lanternMarket } from '@zinc-referee/examples'
import type { NoticeFor } from 'zinc-referee'
import { pageOf, type Seen } from '../face.tsx'
import { counted, nameIn, outcomeOf } from '../names.ts'
import { OnlyTheirs } from '../only-there.tsx'
import { HiddenBlank, SeatName } from '../seat-mark.tsx'
import { type MarketView, wicksIn } from './market-view.ts'
import { Orders } from './orders.tsx'
import { Quays } from './quays.tsx'
import { Wick } from './wick.tsx'
import './market-face.css'

/** Everyone's hand is a number; one's own is shown, and so are one's wishes. */
function Seats({ view, viewer }: { readonly view: MarketView; readonly viewer: string | null }) {
  return (
    <table>
      <thead>
        <tr>
          <th scope="col">Seat</th>
          <th scope="col">Wicks in hand</th>
          <th scope="col">Wishes</th>
          <th scope="col" class="number">
            Points
          </th>
        </tr>
      </thead>
      <tbody>
        {Object.entries(view.roster.seats).map(([seat, row]) => {
          const own = wicksIn(view, 'hand', seat)
          const wishes = Object.values(view.wishes.cards).filter(({ holder }) => holder === seat)
          const count = view.wicks.hands[seat]?.count ?? 0
          return (
            <tr key={seat} class={seat === viewer ? 'own' : ''}>
              <th scope="row">
                <SeatName seat={row} />
              </th>
              <td>
                {seat === viewer ? (
                  <>
                    {own.length === 0 && 'none'}
                    {own.map(([id, { face }]) => (
                      <OnlyTheirs key={id} cell={`wicks.cards.${id}.face`}>
                        <Wick colour={face} />
                      </OnlyTheirs>
                    ))}
                  </>
                ) : (
                  <>
                    {count} <HiddenBlank what="wicks" />
                  </>
                )}
              </td>
              <td>
                {seat === viewer
                  ? wishes.map(({ face = [] }) => face.join(' and ')).join('; ') || 'none'
                  : (view.wishes.hands[seat]?.count ?? 0)}
              </td>
              <td class="number score">{view.scores.sums[seat]?.score ?? 0}</td>
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}

function Sight(seen: Seen<MarketView>) {
  const { view } = seen.match.replica
  const { bells, pays } = view.market.market
  const mark = view['guild-marks']?.marks[seen.viewer ?? '']?.mark
  return (
    <>
      <p class="stand-line">
        {bells} of 3 bells; {counted(view.wicks.counts.of['deck'] ?? 0, 'wick')} in the deck
        {pays.length > 0 && `; at the next bell each quay pays ${pays.join(', ')} for the most lanterns`}
        {mark !== undefined && `; your guild mark: ${mark.replace('-', ' ')}`}
      </p>
      {view.fog !== undefined && (
        <p class="stand-line">
          In the fog:{' '}
          {Object.entries(view.fog.quays).map(([id, { quay, more }], at) => (
            <span key={id}>
              {at > 0 && '; '}
              {quay} {more === undefined ? <HiddenBlank what="how much more it pays" /> : `${more} more`}
            </span>
          ))}
        </p>
      )}
      {(view.market.options?.fetch ?? []).length === 0 && (
        <p class="crates">
          Crates:{' '}
          {wicksIn(view, 'crates').map(([id, { face }]) => (
            <Wick key={id} colour={face} />
          ))}
        </p>
      )}
      <Quays {...seen} />
      <Seats view={view} viewer={seen.viewer} />
    </>
  )
}

function tell({ name, cells }: NoticeFor<typeof lanternMarket>, view: MarketView): string | undefined {
  const who = (seat: unknown): string => nameIn(view, String(seat))
  switch (name) {
    case 'wicks.moved':
      return cells.from === 'crates' && cells.to === 'hand'
        ? `${who(cells.seat)} fetches ${cells.count === 1 ? 'a wick' : `${cells.count} wicks`}`
        : undefined
    case 'wishes.moved':
      return cells.from === 'deck' && cells.to === 'hand' ? `${who(cells.seat)} takes a wish` : undefined
    case 'market.dipped':
      return `${who(cells.seat)} dips ${[cells.colours].flat().join(' and ')}`
    case 'market.hung':
      return `${who(cells.seat)} hangs ${cells.colour} on the ${cells.quay} quay`
    case 'market.rang':
      return `Bell ${cells.bell} rings`
    case 'market.granted':
      return `${who(cells.seat)} answers a wish`
    case 'lampBid.opened':
      return 'The harbour lamp is bid for'
    case 'market.sold':
      return cells.seat === null
        ? 'The highest bids are level: nobody gets the harbour lamp'
        : `${who(cells.seat)} gets the harbour lamp for ${cells.bid}`
    case 'guild-marks.met':
      return `${who(cells.seat)} met the mark ${String(cells.mark).replace('-', ' ')}`
    default:
      return undefined
  }
}

export const marketPage = pageOf<MarketView, NoticeFor<typeof lanternMarket>>('lantern-market', {
  Orders,
  Sight,
  tell,
  outcome: outcomeOf,
})
