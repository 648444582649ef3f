import type { ClientMatch } from '@zinc-referee/venue/client'
import { crews } from '../../../src/regatta/crews.ts'
import { Left, useRedraw } from '../clock.tsx'
import type { Seen } from '../face.tsx'
import { OnlyTheirs } from '../only-there.tsx'
import { HiddenBlank, SeatMark } from '../seat-mark.tsx'
import type { RegattaView } from './regatta-face.tsx'
import '../crew-rows.css'
import './rafts.css'

/** Every raft: how it stands, what it carries as far as the viewer may know, and its score. */
export function Rafts({ match, viewer, act, called }: Seen<RegattaView>) {
  const { view } = match.replica
  const { phase } = view.phases.now
  // While it is played the rows keep their places, so that nobody clicks on a raft that has just moved up.
  const order = (seat: string): number =>
    phase === 'over' ? rankOf(match, seat) : (view.roster.seats[seat]?.number ?? 0)
  const seats = Object.keys(view.roster.seats).sort((a, b) => order(a) - order(b))
  const live = phase === 'live'
  const isUp = viewer !== null && view.vitals.body[viewer]?.down === false
  return (
    <table class="rafts">
      <thead>
        <tr>
          <th scope="col" class="number wide">
            Rank
          </th>
          <th scope="col">Raft</th>
          <th scope="col">Health</th>
          <th scope="col">Cargo</th>
          <th scope="col" class="number wide">
            Sunk
          </th>
          <th scope="col" class="number wide">
            Lost
          </th>
          <th scope="col" class="number">
            Score
          </th>
          {act && (
            <th scope="col">
              <span class="unseen">Ram</span>
            </th>
          )}
        </tr>
      </thead>
      {crews.map((crew, team) => (
        <tbody key={crew}>
          <tr class="crew">
            <th scope="rowgroup" colSpan={act ? 8 : 7}>
              {crew} <span class="number score">{view.teams.sums.score[team] ?? 0}</span>
            </th>
          </tr>
          {seats
            .filter((seat) => teamOf(match, seat) === team)
            .map((seat) => (
              <tr key={seat} class={seat === viewer ? 'own' : ''}>
                <td class="number wide">{live || phase === 'over' ? rankOf(match, seat) : '–'}</td>
                <th scope="row">
                  <Name match={match} seat={seat} />
                </th>
                <td>
                  <Health match={match} seat={seat} />
                </td>
                <td class="cargo">
                  <Cargo match={match} seat={seat} />
                </td>
                <td class="number wide">{view.credit.tally[seat]?.kills}</td>
                <td class="number wide">{view.credit.tally[seat]?.deaths}</td>
                <td class="number score">{view.scores.sums[seat]?.score}</td>
                {act && (
                  <td>
                    {viewer !== null && teamOf(match, seat) !== teamOf(match, viewer) && (
                      <button
                        type="button"
                        disabled={!live || !isUp || view.roster.seats[seat]?.presence === 'left'}
                        aria-pressed={called === `raft.chase ${seat}`}
                        aria-label={`Ram ${view.roster.seats[seat]?.name ?? seat}`}
                        onClick={() => act('raft.chase', { quarry: seat })}
                      >
                        Ram
                      </button>
                    )}
                  </td>
                )}
              </tr>
            ))}
        </tbody>
      ))}
    </table>
  )
}

const teamOf = ({ replica: { view } }: ClientMatch<RegattaView>, seat: string): number | undefined =>
  view.teams.side[seat]?.team

const rankOf = ({ replica: { view } }: ClientMatch<RegattaView>, seat: string): number =>
  view.scores.places[seat]?.rank ?? 0

function Name({ match, seat }: { readonly match: ClientMatch<RegattaView>; readonly seat: string }) {
  const { view } = match.replica
  const row = view.roster.seats[seat]
  if (row === undefined) return null
  const away =
    row.presence === 'absent'
      ? 'away'
      : row.presence === 'left'
        ? 'has left'
        : row.bot
          ? 'bot'
          : view.phases.now.phase === 'lobby' && row.ready
            ? 'ready'
            : ''
  return (
    <span class="name">
      <SeatMark number={row.number} name={row.name} />{' '}
      <span>
        {row.name} <small>{away}</small>
      </span>
    </span>
  )
}

function Health({ match, seat }: { readonly match: ClientMatch<RegattaView>; readonly seat: string }) {
  const { view } = match.replica
  const body = view.vitals.body[seat]
  const due = view.respawn.back[seat]?.due
  if (body?.health === undefined || body.max === undefined) return <HiddenBlank what="health" />
  if (body.max === 0) return <>–</>
  if (body.down && due != null)
    return (
      <span class="sunk">
        back in <Left match={match} due={due} clock="play" />
      </span>
    )
  return (
    <span class="bar">
      <progress value={body.health} max={body.max || 1} aria-label={`health ${body.health} of ${body.max}`} />
      <span class="value">
        {body.health}
        <span class="wide">/{body.max}</span>
      </span>
      <Until match={match} due={body.protectedUntil} says="safe" />
      <Until match={match} due={prowOf(match, seat)} says="bronze" />
    </span>
  )
}

/** Until when the raft has a bronze prow, on the play clock. */
const prowOf = ({ replica: { view } }: ClientMatch<RegattaView>, seat: string): number | null =>
  Object.values(view.boosts.rows).find(({ on, kind }) => on === seat && kind === 'bronze')?.until ?? null

interface UntilProps {
  readonly match: ClientMatch<RegattaView>
  readonly due: number | null
  readonly says: string
}

/** A word that is gone when its time is. */
function Until({ match, due, says }: UntilProps) {
  const remaining = due === null ? 0 : match.replica.remaining(due, 'play', match.clock())
  useRedraw(remaining > 0 && match.replica.view.clocks.play.runs ? remaining : undefined)
  return remaining > 0 ? <small class={says}>{says}</small> : null
}

function Cargo({ match, seat }: { readonly match: ClientMatch<RegattaView>; readonly seat: string }) {
  const cargo = match.replica.view.raft.hold[seat]?.cargo
  if (cargo === undefined) return <HiddenBlank what="cargo" />
  return <OnlyTheirs cell={`raft.hold.${seat}.cargo`}>{cargo}</OnlyTheirs>
}
