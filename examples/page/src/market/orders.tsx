import { useState } from 'preact/hooks'
import { Left } from '../clock.tsx'
import type { Seen } from '../face.tsx'
import { Offers } from '../table/offers.tsx'
import { TurnLine } from '../table/turn-line.tsx'
import { Hand } from './hand.tsx'
import { type MarketView, wicksIn } from './market-view.ts'
import { Wick } from './wick.tsx'

/** Up to three crates are chosen, then fetched: what may be fetched is what the server offers. */
function Fetch({ match, act }: Seen<MarketView>) {
  const [chosen, choose] = useState<readonly string[]>([])
  const { view } = match.replica
  const offers = view.market.options?.fetch ?? []
  if (offers.length === 0) return null
  const crates = wicksIn(view, 'crates')
  const picked = chosen.filter((id) => crates.some(([crate]) => crate === id))
  const offer = offers.find(
    ({ wicks }) => wicks.length === picked.length && wicks.every((id) => picked.includes(id)),
  )
  const toggle = (id: string): void =>
    choose(picked.includes(id) ? picked.filter((each) => each !== id) : [...picked, id])
  return (
    <fieldset class="helm">
      <legend>Fetch up to three</legend>
      {crates.map(([id, { face }]) => (
        <button type="button" key={id} aria-pressed={picked.includes(id)} onClick={() => toggle(id)}>
          <Wick colour={face} />
        </button>
      ))}
      <button
        type="button"
        class="main"
        disabled={offer === undefined}
        onClick={() => offer !== undefined && act?.('market.fetch', offer)}
      >
        Fetch
      </button>
    </fieldset>
  )
}

function Bid({ match, act }: Seen<MarketView>) {
  const { question, seats } = match.replica.view.lampBid
  const [bid, set] = useState(0)
  const own = seats[match.seat ?? '']
  const most = wicksIn(match.replica.view, 'hand', match.seat).length
  return (
    <fieldset class="helm">
      <legend>
        The harbour lamp: bid in secret, in wicks{' '}
        {question.until !== null && <Left match={match} due={question.until} clock="play" />}
      </legend>
      <label>
        Wicks{' '}
        <input
          type="number"
          min={0}
          max={most}
          value={bid}
          onInput={(event) => set(Number(event.currentTarget.value))}
        />
      </label>
      <button
        type="button"
        class="main"
        disabled={own?.asked !== true || bid > most}
        onClick={() => act?.('lampBid.choose', { choice: bid })}
      >
        Bid
      </button>
      <span>{own?.chosen ? `You bid ${own.choice}.` : ''}</span>
    </fieldset>
  )
}

/** What one may do in this step of one's turn; lanterns are hung on the board of quays. */
export function Orders(seen: Seen<MarketView>) {
  const { match, act } = seen
  const { view } = match.replica
  if (view.lampBid.question.open) return <Bid {...seen} />
  const { step, seats } = view.turns.now
  const isOwn = match.seat !== null && seats.includes(match.seat)
  const colourOf = (id: string): string => view.market.lanterns[id]?.colour ?? ''
  return (
    <>
      <TurnLine match={match} />
      {isOwn && step === 'work' && (
        <>
          <Fetch {...seen} />
          <Hand {...seen} />
        </>
      )}
      {isOwn && (
        <fieldset class="helm">
          <legend class="unseen">Or else</legend>
          <Offers
            options={view.market.options?.wish}
            words={() => 'Take a wish'}
            verb="Wish"
            choose={() => act?.('market.wish')}
          />
          <Offers
            options={view.market.options?.shelve}
            words={({ lantern }) => `Shelve the ${colourOf(lantern)} lantern`}
            verb="Shelve"
            choose={(input) => act?.('market.shelve', input)}
          />
          <Offers
            options={view.tolls?.options?.keep}
            words={() => 'Keep the gate'}
            verb="Keep"
            choose={() => act?.('tolls.keep')}
          />
          <Offers
            options={view.moths?.options?.lure}
            words={() => 'Lure a moth'}
            verb="Lure"
            choose={() => act?.('moths.lure')}
          />
          <Offers
            options={view.moths?.options?.letFly}
            words={() => 'Let a moth fly'}
            verb="Let fly"
            choose={() => act?.('moths.letFly')}
          />
          {Object.keys(view.turns.seats[match.seat ?? '']?.owes ?? {}).length === 0 && (
            <button type="button" onClick={() => act?.('turns.pass')}>
              End my turn
            </button>
          )}
        </fieldset>
      )}
    </>
  )
}
