import type { hotKettle } from '@zinc-referee/examples'
import type { NoticeFor, ViewFor } from 'zinc-referee'
import { formatElapsed } from 'zinc-referee/replica'
import { useRedraw } from '../clock.tsx'
import { pageOf, type Seen } from '../face.tsx'
import { nameIn, outcomeOf } from '../names.ts'
import { SeatName } from '../seat-mark.tsx'
import './kettle-face.css'

type KettleView = ViewFor<typeof hotKettle>

const THING = 'kettle'
/** Whom the kettle can be handed to: what the server offers. */
function Hands({ match, act }: Seen<KettleView>) {
  const { view } = match.replica
  const offers = view.kettle.options?.pass ?? []
  if (view.holds.now.holder[THING] !== match.seat)
    return <p class="helm">{offers.length === 0 ? 'Somebody else has it. Keep your paws free.' : ''}</p>
  return (
    <fieldset class="helm">
      <legend>You hold it! Hand it on to</legend>
      {offers.map(({ to }) => (
        <button type="button" key={to} onClick={() => act?.('kettle.pass', { to })}>
          {nameIn(view, to)}
        </button>
      ))}
      {offers.length === 0 && <span>Not straight back: wait a moment.</span>}
    </fieldset>
  )
}

/** The ring round the fire: who holds the kettle, whose lives are left, and how long each has held it. */
function Ring({ match, viewer }: Seen<KettleView>) {
  const { view } = match.replica
  const holder = view.holds.now.holder[THING]
  const seats = Object.entries(view.roster.seats)
  const played = match.replica.reading('play', match.clock())
  const since = view.holds.now.since[THING]
  useRedraw(view.clocks.play.runs && holder !== undefined ? 1000 - (played % 1000) : undefined)
  return (
    <>
      <figure class="map">
        <svg class="ring-view" viewBox="-150 -115 300 230" role="img" aria-label="The ring round the fire">
          <rect class="ground" x="-150" y="-115" width="300" height="230" rx="8" />
          <path class="fire" d="M-14 16 Q-22 -8 -4 -24 Q-2 -10 8 -16 Q22 0 14 16 Z" />
          {seats.map(([seat, { name, number, sidelined }], at) => {
            const turn = (at / seats.length) * 2 * Math.PI - Math.PI / 2
            const [x, y] = [Math.cos(turn) * 105, Math.sin(turn) * 78]
            return (
              <g key={seat} class={`on-map tone-${(number - 1) % 8}`} opacity={sidelined ? 0.35 : 1}>
                <title>{name}</title>
                {seat === holder && <circle class="kettle-ring" cx={x} cy={y} r="23" />}
                {seat === viewer && <circle class="ring" cx={x} cy={y} r="19" />}
                <circle cx={x} cy={y} r="15" />
                <text x={x} y={y} text-anchor="middle" dominant-baseline="central" font-size="16">
                  {[...name][0]?.toUpperCase()}
                </text>
              </g>
            )
          })}
        </svg>
        <figcaption>
          {holder === undefined ? 'Nobody holds the kettle.' : `${nameIn(view, holder)} holds the kettle.`}
        </figcaption>
      </figure>
      <table>
        <thead>
          <tr>
            <th scope="col">Seat</th>
            <th scope="col">Lives</th>
            <th scope="col" class="number">
              Held
            </th>
          </tr>
        </thead>
        <tbody>
          {seats.map(([seat, row]) => {
            const closed = view.holds.totals[seat]?.held[THING] ?? 0
            const open = seat === holder && since !== undefined ? Math.max(0, played - since) : 0
            const lives = view.respawn.lives[seat]?.left ?? 0
            return (
              <tr key={seat} class={seat === viewer ? 'own' : ''}>
                <th scope="row">
                  <SeatName seat={row} />
                </th>
                <td>{row.sidelined ? 'out' : lives}</td>
                <td class="number">{formatElapsed(closed + open)}</td>
              </tr>
            )
          })}
        </tbody>
      </table>
    </>
  )
}

function tell({ name, cells }: NoticeFor<typeof hotKettle>, view: KettleView): string | undefined {
  const who = (seat: unknown): string => nameIn(view, String(seat))
  switch (name) {
    case 'kettle.served':
      return `The kettle is hung up over ${who(cells.seat)}`
    case 'holds.passed':
      return cells.why === 'passed' ? `${who(cells.from)} hands it to ${who(cells.to)}` : undefined
    case 'kettle.boiled':
      return `It boils over on ${who(cells.seat)}`
    case 'roster.sidelined':
      return `${who(cells.seat)} is out`
    default:
      return undefined
  }
}

export const kettlePage = pageOf<KettleView, NoticeFor<typeof hotKettle>>('hot-kettle', {
  Orders: Hands,
  Sight: Ring,
  tell,
  outcome: outcomeOf,
})
