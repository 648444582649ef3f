import type { kettleWatch } from '@zinc-referee/examples'
import type { NoticeFor, ViewFor } from 'zinc-referee'
import { useRedraw } from '../clock.tsx'
import { pageOf, type Seen } from '../face.tsx'
import { counted, nameIn, outcomeOf } from '../names.ts'
import { OnlyTheirs } from '../only-there.tsx'
import { HiddenBlank, SeatName } from '../seat-mark.tsx'
import { Ring } from './ring.tsx'
import './kettle-face.css'

export type KettleView = ViewFor<typeof kettleWatch>

const FEELS = ['cold', 'warm', 'hot', 'very hot', 'about to boil over']

/** What the holder can do, or a neighbour: only what the server offers. */
function Paws({ match, act }: Seen<KettleView>) {
  const { view } = match.replica
  const hands = view.kettle.options?.hand ?? []
  const isHolder = view.holds.now.holder['kettle'] === match.seat
  if (!isHolder)
    return (
      <div class="helm">
        {(view.kettle.options?.take ?? []).length > 0 ? (
          <button type="button" class="main" onClick={() => act?.('kettle.take')}>
            Take the kettle
          </button>
        ) : (
          <span>Somebody else has the watch. Beside it, take the kettle once it is held loosely.</span>
        )}
      </div>
    )
  return (
    <fieldset class="helm">
      <legend>{hands.length === 0 ? 'You have the watch!' : 'You have the watch! Hand it on to'}</legend>
      {hands.map(({ to }) => (
        <button type="button" key={to} onClick={() => act?.('kettle.hand', { to })}>
          {nameIn(view, to)}
        </button>
      ))}
      {hands.length === 0 && <span>Fill two cups before you hand it on.</span>}
    </fieldset>
  )
}

/** The ring round the fire, what the kettle feels like, and everybody's cups. */
function Sight({ match, viewer }: Seen<KettleView>) {
  const { view } = match.replica
  const holder = view.phases.now.phase === 'over' ? undefined : view.holds.now.holder['kettle']
  const played = match.replica.reading('play', match.clock())
  const filled = holder === undefined ? 0 : Math.max(0, Math.floor((played - view.kettle.hands.since) / 1000))
  useRedraw(view.clocks.play.runs ? 1000 - ((played - view.kettle.hands.since) % 1000) : undefined)
  const heat = holder === undefined ? undefined : view.kettle.paws[holder]?.heat
  return (
    <>
      {holder === undefined ? (
        <p>Nobody holds the kettle.</p>
      ) : (
        <p>
          {`${nameIn(view, holder)} fills ${counted(filled, 'cup')}`}
          {view.kettle.hands.loose && ', and holds loosely'}. It feels{' '}
          <OnlyTheirs cell={`kettle.paws.${holder}.heat`}>
            {heat == null ? <HiddenBlank what="how hot it is" /> : `${FEELS[heat]}.`}
          </OnlyTheirs>
        </p>
      )}
      <Ring view={view} viewer={viewer} holder={holder} filled={filled} heat={heat ?? undefined} />
      <table>
        <thead>
          <tr>
            <th scope="col">Seat</th>
            <th scope="col" class="number">
              Cups
            </th>
          </tr>
        </thead>
        <tbody>
          {Object.entries(view.roster.seats).map(([seat, row]) => (
            <tr key={seat} class={seat === viewer ? 'own' : ''}>
              <th scope="row">
                <SeatName seat={row} />
              </th>
              <td class="number">{view.scores.sums[seat]?.score ?? 0}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}

function tell({ name, cells }: NoticeFor<typeof kettleWatch>, view: KettleView): string | undefined {
  const who = (seat: unknown): string => nameIn(view, String(seat))
  switch (name) {
    case 'holds.passed':
      return cells.why === 'taken' ? `${who(cells.to)} has the first watch` : undefined
    case 'kettle.counted':
      return `${who(cells.seat)} counts ${counted(cells.cups, 'cup')}`
    case 'kettle.taken':
      return `${who(cells.seat)} takes the kettle from ${who(cells.from)}`
    case 'kettle.boiled':
      return `It boils over on ${who(cells.seat)}: ${cells.spilt} spilt`
    default:
      return undefined
  }
}

export const kettlePage = pageOf<KettleView, NoticeFor<typeof kettleWatch>>('kettle-watch', {
  Orders: Paws,
  Sight,
  tell,
  outcome: outcomeOf,
})
