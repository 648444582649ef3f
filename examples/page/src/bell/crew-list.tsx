import type { ClientMatch } from '@zinc-referee/venue/client'
import { crews, goal } from '../../../src/bell/pier.ts'
import { Left, useRedraw } from '../clock.tsx'
import type { Seen } from '../face.tsx'
import { OnlyTheirs } from '../only-there.tsx'
import { HiddenBlank, SeatName } from '../seat-mark.tsx'
import type { BellView } from './bell-face.tsx'
import '../crew-rows.css'
import './crew-list.css'

const GOAL = goal / 1000

/** Both crews: how long each has rung, and how each of them stands as far as the viewer may know. */
export function CrewList({ match, viewer }: Seen<BellView>) {
  const { view } = match.replica
  return (
    <table>
      <thead>
        <tr>
          <th scope="col">Seat</th>
          <th scope="col">Health</th>
          <th scope="col">Stones</th>
          <th scope="col" class="number">
            Downed
          </th>
          <th scope="col" class="number">
            Down
          </th>
        </tr>
      </thead>
      {crews.map((crew, team) => (
        <tbody key={crew}>
          <tr class="crew">
            <th scope="rowgroup" colSpan={5}>
              {crew} <Rung match={match} team={team} />
              <small> {wins(view, team)}</small>
            </th>
          </tr>
          {Object.entries(view.roster.seats)
            .filter(([seat]) => view.teams.side[seat]?.team === team)
            .map(([seat, row]) => (
              <tr key={seat} class={seat === viewer ? 'own' : ''}>
                <th scope="row">
                  <SeatName seat={row} /> <small>{standing(view, seat)}</small>
                </th>
                <td>
                  <Health match={match} seat={seat} />
                </td>
                <td>
                  <OnlyTheirs cell={`tide.pockets.${seat}.stones`}>
                    {view.tide.pockets[seat]?.stones ?? <HiddenBlank what="stones" />}
                  </OnlyTheirs>
                </td>
                <td class="number">{view.credit.tally[seat]?.kills}</td>
                <td class="number">{view.credit.tally[seat]?.deaths}</td>
              </tr>
            ))}
        </tbody>
      ))}
    </table>
  )
}

function standing(view: BellView, seat: string): string {
  const row = view.roster.seats[seat]
  if (row?.presence === 'left') return 'has left'
  if (row?.sidelined) return 'watches'
  return view.roles.seats[seat]?.role === 'keeper' ? 'bell keeper' : ''
}

function wins(view: BellView, team: number): string {
  const won = view.verdict.rounds.wins[team] ?? 0
  return won === 0 ? '' : `${won} ${won === 1 ? 'round' : 'rounds'} won`
}

/** How long a crew has rung, in whole seconds. Drawn again when the next second is full. */
function Rung({ match, team }: { readonly match: ClientMatch<BellView>; readonly team: number }) {
  const { view } = match.replica
  const [bell] = Object.values(view.zones.zones)
  const rate = bell !== undefined && bell.side === String(team) ? bell.rate : 0
  const since = bell === undefined ? 0 : match.replica.reading('play', match.clock()) - bell.since
  const ms = ((bell?.held[team] ?? 0) + rate * Math.max(0, since)) / 1000
  useRedraw(view.clocks.play.runs && rate > 0 ? ((1000 - (ms % 1000)) * 1000) / rate : undefined)
  const full = Math.floor(ms / 1000)
  return (
    <span class={rate > 0 ? 'score rings' : 'score'}>
      {full} s{' '}
      <progress
        value={Math.min(GOAL, full)}
        max={GOAL}
        aria-label={`${crews[team]} rang ${full} of ${GOAL} seconds`}
      />
    </span>
  )
}

function Health({ match, seat }: { readonly match: ClientMatch<BellView>; readonly seat: string }) {
  const { view } = match.replica
  const body = view.vitals.body[seat]
  const due = view.respawn.back[seat]?.due
  if (body?.down && due != null)
    return (
      <span class="sunk">
        back in <Left match={match} due={due} clock="play" />
      </span>
    )
  if (body?.health === undefined) return <HiddenBlank what="health" />
  return <OnlyTheirs cell={`vitals.body.${seat}.health`}>{body.health}</OnlyTheirs>
}
