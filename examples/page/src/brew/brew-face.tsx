import type { spoiledBrew } from '@zinc-referee/examples'
import type { NoticeFor, ViewFor } from 'zinc-referee'
import { Left } from '../clock.tsx'
import { pageOf, type Seen } from '../face.tsx'
import { nameIn } from '../names.ts'
import { HiddenBlank, SeatName } from '../seat-mark.tsx'
import { Offers } from '../table/offers.tsx'
import './brew-face.css'

type BrewView = ViewFor<typeof spoiledBrew>

/** A vote, while a tasting is open. */
function Vote({ match, act }: Seen<BrewView>) {
  const { view } = match.replica
  const { candidates, until } = view.tasting.ballot
  const own = view.tasting.votes[match.seat ?? '']
  return (
    <fieldset class="helm">
      <legend>
        Who spoils the brew? {until !== null && <Left match={match} due={until} clock="match" />}
      </legend>
      {candidates
        .filter((seat) => seat !== match.seat)
        .map((seat) => (
          <button
            type="button"
            key={seat}
            disabled={own?.voter !== true}
            aria-pressed={own?.for?.includes(seat) ?? false}
            onClick={() => act?.('tasting.vote', { for: [seat] })}
          >
            {nameIn(view, seat)}
          </button>
        ))}
      <button type="button" disabled={own?.voter !== true} onClick={() => act?.('tasting.abstain')}>
        Nobody
      </button>
    </fieldset>
  )
}

function Orders(seen: Seen<BrewView>) {
  const { match, act } = seen
  const { view } = match.replica
  if (view.tasting.ballot.open) return <Vote {...seen} />
  const { options, barrels, timers } = view.brewery
  const pours = timers?.pour?.[match.seat ?? '']
  const waits = timers?.wait?.[match.seat ?? '']
  const barrel = (id: string): string => barrels[id]?.name ?? 'barrel'
  return (
    <fieldset class="helm">
      <legend class="unseen">In the brewery</legend>
      <Offers
        options={options?.fill}
        words={({ errand }) => {
          const { kind, done, need } = view.errands.rows[errand] ?? {}
          return `Fill the ${kind}: ${done} of ${need}`
        }}
        verb="Fill"
        choose={(input) => act?.('brewery.fill', input)}
      />
      <Offers
        options={options?.rinse}
        words={(input) => `Rinse the ${barrel(input.barrel)}`}
        verb="Rinse"
        choose={(input) => act?.('brewery.rinse', input)}
      />
      <Offers
        options={options?.tamper}
        words={(input) => `Spoil the ${barrel(input.barrel)}`}
        verb="Spoil"
        choose={(input) => act?.('brewery.tamper', input)}
      />
      <Offers
        options={options?.call}
        words={() => 'Call a tasting'}
        verb="Call"
        choose={() => act?.('brewery.call')}
      />
      {pours !== undefined && (
        <span>
          You are pouring: <Left match={match} due={pours} clock="play" />
        </span>
      )}
      {waits !== undefined && (
        <span>
          You can spoil again in <Left match={match} due={waits} clock="play" />
        </span>
      )}
    </fieldset>
  )
}

function atTasting(view: BrewView, seat: string): string {
  const { voter, voted } = view.tasting.votes[seat] ?? {}
  if (view.roster.seats[seat]?.sidelined) return 'sent home'
  if (view.tasting.ballot.open && voter) return voted ? 'has voted' : 'tastes'
  return view.brewery.calls[seat]?.hasCalled ? 'has called one' : ''
}

/** Barrels, and what everyone is known to be: a role that this view does not have is a blank. */
function Sight({ match, viewer }: Seen<BrewView>) {
  const { view } = match.replica
  return (
    <>
      <p class="stand-line">
        Filled by all: {view.errands.shown.done} of {view.errands.shown.of} parts
      </p>
      <ul class="barrels" aria-label="Barrels">
        {Object.entries(view.brewery.barrels).map(([id, { name, sour, tampered }]) => (
          <li key={id} class={sour ? 'sour' : ''}>
            <strong>{name}</strong>
            <span>{sour ? 'sour' : tampered === true ? 'spoiled, not sour yet' : 'sweet'}</span>
          </li>
        ))}
      </ul>
      <table>
        <thead>
          <tr>
            <th scope="col">Seat</th>
            <th scope="col">Role</th>
            <th scope="col">Tasting</th>
          </tr>
        </thead>
        <tbody>
          {Object.entries(view.roster.seats).map(([seat, row]) => {
            const role = view.roles.seats[seat]?.role
            return (
              <tr key={seat} class={seat === viewer ? 'own' : ''}>
                <th scope="row">
                  <SeatName seat={row} />
                </th>
                <td>{role === undefined ? <HiddenBlank what="role" /> : role || 'none'}</td>
                <td>{atTasting(view, seat)}</td>
              </tr>
            )
          })}
        </tbody>
      </table>
    </>
  )
}

function tell({ name, cells }: NoticeFor<typeof spoiledBrew>, view: BrewView): string | undefined {
  const who = (seat: unknown): string => nameIn(view, String(seat))
  switch (name) {
    case 'brewery.soured':
      return `The ${cells.barrel} has turned sour`
    case 'brewery.rinsed':
      return `${who(cells.seat)} rinses the ${cells.barrel}`
    case 'brewery.called':
      return `${who(cells.seat)} calls a tasting`
    case 'tasting.closed':
      return [cells.winners].flat().length === 0 ? 'The tasting sends nobody home' : undefined
    case 'roster.sidelined':
      return `${who(cells.seat)} is sent home`
    default:
      return undefined
  }
}

export const brewPage = pageOf<BrewView, NoticeFor<typeof spoiledBrew>>('spoiled-brew', {
  Orders,
  Sight,
  tell,
  outcome: ({ verdict: { end }, roles }) =>
    end.kind === 'win' ? `The ${roles.seats[end.winners[0] ?? '']?.role ?? 'winner'}s win` : 'Nobody wins',
})
