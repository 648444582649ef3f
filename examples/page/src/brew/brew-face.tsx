import type { spoiledBrew } from '@zinc-referee/examples'
import type { NoticeFor, ViewFor } from 'zinc-referee'
import { formatElapsed } from 'zinc-referee/replica'
import { Left } from '../clock.tsx'
import { pageOf, type Seen } from '../face.tsx'
import { nameIn } from '../names.ts'
import { OnlyTheirs } from '../only-there.tsx'
import { HiddenBlank, SeatName } from '../seat-mark.tsx'
import { FairGround } from './fair-ground.tsx'
import './brew-face.css'

export type BrewView = ViewFor<typeof spoiledBrew>

const STRIKES = 5

/** Which barrel is to be opened, while the clock strikes. */
function Vote({ match, act }: Seen<BrewView>) {
  const { view } = match.replica
  const { candidates, until } = view.opening.ballot
  const own = view.opening.votes[match.seat ?? '']
  return (
    <fieldset class="helm">
      <legend>
        Which barrel is opened now? {until !== null && <Left match={match} due={until} clock="phase" />}
      </legend>
      {candidates.map((name) => (
        <button
          type="button"
          key={name}
          disabled={own?.voter !== true}
          aria-pressed={own?.for?.includes(name) ?? false}
          onClick={() => act?.('opening.vote', { for: [name] })}
        >
          Open the {name}
        </button>
      ))}
      <button type="button" disabled={own?.voter !== true} onClick={() => act?.('opening.abstain')}>
        Open none
      </button>
    </fieldset>
  )
}

function Orders(seen: Seen<BrewView>) {
  const { match, act } = seen
  const { view } = match.replica
  if (view.opening.ballot.open) return <Vote {...seen} />
  const { options, timers, walkers } = view.brewery
  const own = walkers[match.seat ?? '']
  const [arrives, rests] = [timers?.arrive?.[match.seat ?? ''], timers?.rest?.[match.seat ?? '']]
  return (
    <>
      <fieldset class="helm">
        <legend class="unseen">At the barrel</legend>
        <button
          type="button"
          class="main"
          disabled={!options?.stir?.length}
          onClick={() => act?.('brewery.stir')}
        >
          Stir
        </button>
        {view.roles.seats[match.seat ?? '']?.role === 'spoiler' && (
          <button type="button" disabled={!options?.sour?.length} onClick={() => act?.('brewery.sour')}>
            Stir towards sour
          </button>
        )}
        <span>
          {own?.carries ? 'You carry a sack of malt. ' : ''}
          {arrives !== undefined && (
            <>
              On your way to the {own?.to}: <Left match={match} due={arrives} clock="play" />.{' '}
            </>
          )}
          {rests !== undefined && (
            <>
              Stir again in <Left match={match} due={rests} clock="play" />.
            </>
          )}
        </span>
      </fieldset>
      <fieldset class="helm walk">
        <legend>Walk to</legend>
        {(options?.walk ?? []).map(({ to }) => (
          <button type="button" key={to} onClick={() => act?.('brewery.walk', { to })}>
            {to}
          </button>
        ))}
      </fieldset>
    </>
  )
}

/** The fair, the slate, and what everyone is known to be: a role that this view does not have is a blank. */
function Sight({ match, viewer }: Seen<BrewView>) {
  const { view } = match.replica
  const [strikes] = Object.values(view.brewery.timers?.strike ?? {})
  const open = Object.values(view.brewery.barrels).map(({ opened }) => opened)
  const [sweet, neither] = ['sweet', 'neither'].map((as) => open.filter((each) => each === as).length)
  const slate = Object.values(view.brewery.slate).sort((a, b) => b.since - a.since)
  return (
    <>
      <p class="stand-line">
        Strikes: {view.brewery.clock.strikes} of {STRIKES}
        {view.phases.now.phase === 'over' &&
          `; sweet ${sweet}, sour or shut ${open.length - Number(sweet) - Number(neither)}`}
        {strikes !== undefined && (
          <>
            , the next in <Left match={match} due={strikes} clock="play" />
          </>
        )}
      </p>
      <FairGround view={view} viewer={viewer} />
      <table>
        <thead>
          <tr>
            <th scope="col">Seat</th>
            <th scope="col">Role</th>
            <th scope="col">Last on the slate</th>
          </tr>
        </thead>
        <tbody>
          {Object.entries(view.roster.seats).map(([seat, row]) => {
            const role = view.roles.seats[seat]?.role
            const lines = slate.filter((line) => line.seat === seat).slice(0, 3)
            return (
              <tr key={seat} class={seat === viewer ? 'own' : ''}>
                <th scope="row">
                  <SeatName seat={row} />
                </th>
                <td>
                  <OnlyTheirs cell={`roles.seats.${seat}.role`}>
                    {role ?? <HiddenBlank what="role" />}
                  </OnlyTheirs>
                </td>
                <td>
                  {lines
                    .map(({ barrel, since, stirs }) => `${formatElapsed(since)} ${barrel} (${stirs})`)
                    .join(', ')}
                </td>
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
    case 'brewery.stirred':
      return `${who(cells.seat)} stirs the ${cells.barrel}`
    case 'brewery.struck':
      return `The clock strikes: ${cells.strikes} of ${STRIKES}`
    case 'brewery.opened':
      return `The ${cells.barrel} is opened: ${cells.as}`
    case 'opening.closed':
      return cells.winners.length === 0 ? 'No barrel is opened' : undefined
    case 'roles.revealed':
      return `${who(cells.seat)} was a ${cells.role}`
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
