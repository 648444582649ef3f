import { useState } from 'preact/hooks'
import { Left } from '../clock.tsx'
import type { Seen } from '../face.tsx'
import { nameIn } from '../names.ts'
import { Offers } from '../table/offers.tsx'
import { TurnLine } from '../table/turn-line.tsx'
import { wordsOf } from './letter.tsx'
import { faceOf, lettersIn, type PostView } from './post-view.ts'

/** What can be done now: the actions of one's turn, a letter to pass on, or a bid. */
export function Orders(seen: Seen<PostView>) {
  const { passing, bid } = seen.match.replica.view
  const seat = seen.match.seat ?? ''
  if (passing.question.open)
    return passing.seats[seat]?.asked ? (
      <Passing {...seen} />
    ) : (
      <Waits says="The ebb: letters are passed on." />
    )
  if (bid.question.open)
    return bid.seats[seat]?.asked ? <Bid {...seen} /> : <Waits says="The wax seal is bid for." />
  return (
    <>
      <TurnLine match={seen.match} />
      <Turn {...seen} />
    </>
  )
}

/** For who is not asked: a spectator, and a seat without letters. */
function Waits({ says }: { readonly says: string }) {
  return (
    <p class="turn-line">
      <strong>{says}</strong> You have nothing to choose.
    </p>
  )
}

function Turn({ match, act }: Seen<PostView>) {
  const { view } = match.replica
  const offers = view.mail.options
  const name = (id: string): string => {
    const face = faceOf(view, id)
    return face === undefined ? '?' : wordsOf(face)
  }
  if (!view.turns.now.seats.includes(match.seat ?? '')) return null
  return (
    <fieldset class="helm">
      <legend class="unseen">Your turn</legend>
      <Offers
        options={offers?.draw}
        words={() => 'Draw a letter'}
        verb="Draw"
        choose={() => act?.('mail.draw')}
      />
      <Offers
        options={offers?.lay}
        words={({ letter }) => `Lay ${name(letter)}`}
        verb="Lay"
        choose={(input) => act?.('mail.lay', input)}
      />
      <Offers
        options={offers?.swap}
        words={({ laid, held }) => `Swap ${name(laid)} for ${name(held)}`}
        verb="Swap"
        choose={(input) => act?.('mail.swap', input)}
      />
      <Offers
        options={offers?.peek}
        words={({ whose }) => `Peek at ${nameIn(view, whose)}`}
        verb="Peek"
        choose={(input) => act?.('mail.peek', input)}
      />
      <Offers
        options={offers?.whisper}
        words={({ to, colour }) => `To ${nameIn(view, to)}, about ${colour}`}
        verb="Whisper"
        choose={(input) => act?.('mail.whisper', input)}
      />
      <button type="button" onClick={() => act?.('turns.pass')}>
        Pass
      </button>
    </fieldset>
  )
}

function Passing({ match, act }: Seen<PostView>) {
  const { view } = match.replica
  const seat = match.seat ?? ''
  const chosen = view.passing.seats[seat]?.choice
  const { until } = view.passing.question
  return (
    <fieldset class="helm">
      <legend>Ebb: choose a letter for your left neighbour, or lose the lowest of your rack</legend>
      {lettersIn(view, 'hand', seat).map(({ id, face }) => (
        <button
          type="button"
          key={id}
          aria-pressed={id === chosen}
          onClick={() => act?.('passing.choose', { choice: id })}
        >
          {wordsOf(face)}
        </button>
      ))}
      <span>
        {view.storm?.sky.colour != null && `No ${view.storm.sky.colour} in this storm. `}
        {until !== null && <Left match={match} due={until} clock="play" />}
      </span>
    </fieldset>
  )
}

function Bid({ match, act }: Seen<PostView>) {
  const { view } = match.replica
  const seat = match.seat ?? ''
  const [chosen, choose] = useState<readonly string[]>([])
  const hand = lettersIn(view, 'hand', seat)
  const mine = chosen.filter((id) => hand.some((each) => each.id === id))
  const sum = mine.reduce((all, id) => all + (faceOf(view, id)?.value ?? 0), 0)
  const toggle = (id: string): void =>
    choose(mine.includes(id) ? mine.filter((each) => each !== id) : [...mine, id])
  const { until } = view.bid.question
  return (
    <fieldset class="helm">
      <legend>Bid for the wax seal: the highest sum has it, and all bids are gone</legend>
      {hand.map(({ id, face }) => (
        <button type="button" key={id} aria-pressed={mine.includes(id)} onClick={() => toggle(id)}>
          {wordsOf(face)}
        </button>
      ))}
      <button type="button" class="main" onClick={() => act?.('bid.choose', { choice: mine })}>
        Bid {sum}
      </button>
      <span>
        {view.bid.seats[seat]?.chosen ? 'Your bid is made. You can change it. ' : ''}
        {until !== null && <Left match={match} due={until} clock="play" />}
      </span>
    </fieldset>
  )
}
