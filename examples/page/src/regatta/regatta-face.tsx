import type { reedRegatta } from '@zinc-referee/examples'
import type { NoticeFor, ViewFor } from 'zinc-referee'
import { crews } from '../../../src/regatta/crews.ts'
import { pageOf, type Seen } from '../face.tsx'
import { Rafts } from './rafts.tsx'
import { RiverMap } from './river-map.tsx'
import { tellRegatta } from './tell.ts'

/** What a viewer of the regatta sees. */
export type RegattaView = ViewFor<typeof reedRegatta>

/** Where a raft is heading is shown to nobody, so the page remembers what was last called. */
function Helm({ match, act, called }: Seen<RegattaView>) {
  const { view } = match.replica
  const down = view.vitals.body[match.seat ?? '']?.down ?? true
  const order = (action: string, text: string) => (
    <button type="button" disabled={down} aria-pressed={called === action} onClick={() => act?.(action)}>
      {text}
    </button>
  )
  return (
    <fieldset class="helm">
      <legend class="unseen">Your raft</legend>
      {order('raft.search', 'Search for cargo')}
      {order('raft.dock', 'Head for the dock')}
      <span>
        {down ? 'You are sunk: your raft will be back.' : 'Or ram somebody below. Nobody sees your course.'}
      </span>
    </fieldset>
  )
}

function outcome({ verdict: { end }, roster, teams }: RegattaView): string {
  if (end.kind === 'none') return 'Nobody wins'
  if (end.kind === 'draw') return 'The crews draw'
  const [first = ''] = end.winners
  const names = end.winners.map((seat) => roster.seats[seat]?.name ?? seat)
  return `${crews[teams.side[first]?.team ?? -1] ?? ''} wins: ${names.join(', ')}`
}

export const regattaPage = pageOf<RegattaView, NoticeFor<typeof reedRegatta>>('reed-regatta', {
  Orders: Helm,
  Sight: (seen) => (
    <>
      <RiverMap match={seen.match} viewer={seen.viewer} />
      <Rafts {...seen} />
    </>
  ),
  tell: tellRegatta,
  outcome,
})
