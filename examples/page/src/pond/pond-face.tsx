import type { pikePond } from '@zinc-referee/examples'
import type { NoticeFor, ViewFor } from 'zinc-referee'
import { pond } from '../../../src/pond/water.ts'
import { Left } from '../clock.tsx'
import { pageOf, type Seen } from '../face.tsx'
import { counted, nameIn } from '../names.ts'
import { PondMap } from './pond-map.tsx'

export type PondView = ViewFor<typeof pikePond>

const SIDES = ['minnow', 'pike'] as const
const sideOf = (view: PondView, seat: string): string => SIDES[view.teams.side[seat]?.team ?? 0] ?? ''

const ways = [
  ['west', -1, 0],
  ['north', 0, -1],
  ['south', 0, 1],
  ['east', 1, 0],
] as const
const STROKE = 250

/** Four ways for the keyboard; the map can be clicked, too. */
function Fins({ match, act, called }: Seen<PondView>) {
  const { view } = match.replica
  const seat = match.seat ?? ''
  const spot = view.areas.spots[seat]
  const { x, y } = spot ?? {}
  const isDown = view.vitals.body[seat]?.down ?? true
  const towards = view.areas.hints[seat]?.towards
  const swim = (dx: number, dy: number): void => {
    if (x === undefined || y === undefined) return
    act?.('pond.swim', { x: within(x + dx * STROKE, pond.width), y: within(y + dy * STROKE, pond.height) })
  }
  return (
    <fieldset class="helm">
      <legend class="unseen">Swim</legend>
      {ways.map(([way, dx, dy]) => (
        <button type="button" key={way} disabled={isDown} onClick={() => swim(dx, dy)}>
          {way}
        </button>
      ))}
      <span>
        {isDown ? 'You were bitten: wait a moment. ' : `You are a ${sideOf(view, seat)}. `}
        {view.pond.fish[seat]?.shoal ? 'You swim in a shoal. ' : ''}
        {towards ? `The one who shines is ${towards} of you.` : ''}
        {called === '' && !isDown ? ' Click into the pond, or choose a way.' : ''}
      </span>
    </fieldset>
  )
}

const within = (at: number, most: number): number => Math.max(0, Math.min(most, Math.round(at)))

function Top({ view, viewer }: { readonly view: PondView; readonly viewer: string | null }) {
  return (
    <table>
      <thead>
        <tr>
          <th scope="col" class="number">
            Rank
          </th>
          <th scope="col">Fish</th>
          <th scope="col">Side</th>
          <th scope="col" class="number">
            Score
          </th>
        </tr>
      </thead>
      <tbody>
        {[
          ...view.scores.board.top,
          ...(viewer === null || view.scores.board.top.includes(viewer) ? [] : [viewer]),
        ].map((seat) => (
          <tr key={seat} class={seat === viewer ? 'own' : ''}>
            <td class="number">{view.scores.places[seat]?.rank}</td>
            <th scope="row">
              {nameIn(view, seat)} <small>{view.roster.seats[seat]?.bot ? 'bot' : ''}</small>
            </th>
            <td>{sideOf(view, seat)}</td>
            <td class="number score">{view.scores.sums[seat]?.score}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function Sight(seen: Seen<PondView>) {
  const { match, viewer } = seen
  const { view } = match.replica
  const { shining, until } = view.pond.moon
  const heads = (side: number): number =>
    Object.entries(view.roster.seats).filter(
      ([seat, { presence }]) => presence !== 'left' && view.teams.side[seat]?.team === side,
    ).length
  const perHead = (side: number): string =>
    ((view.teams.sums.score[side] ?? 0) / Math.max(1, heads(side))).toFixed(1)
  return (
    <>
      <p class="stand-line">
        Points a head: minnows {perHead(0)}, pikes {perHead(1)}
        {shining !== null && until !== null && (
          <>
            {' '}
            · <strong>{nameIn(view, shining)} shines</strong> for{' '}
            <Left match={match} due={until} clock="play" />
          </>
        )}
      </p>
      <PondMap {...seen} />
      <Top view={view} viewer={viewer} />
    </>
  )
}

function tell({ name, cells }: NoticeFor<typeof pikePond>, view: PondView): string | undefined {
  const who = (seat: unknown): string => nameIn(view, String(seat))
  switch (name) {
    case 'pond.shines':
      return `${who(cells.seat)} eats the moonfly and shines`
    case 'pond.bitten':
      return `${who(cells.by)} bites ${who(cells.seat)}`
    case 'pond.scattered':
      return `${who(cells.seat)} scatters a shoal`
    case 'pond.best':
      return `The best fish is ${who(cells.seat)}, with ${counted(cells.points, 'point')}`
    default:
      return undefined
  }
}

export const pondPage = pageOf<PondView, NoticeFor<typeof pikePond>>('pike-pond', {
  Orders: Fins,
  Sight,
  tell,
  outcome: ({ verdict: { end }, teams }) =>
    end.kind === 'win'
      ? `The ${SIDES[teams.side[end.winners[0] ?? '']?.team ?? 0]}s win`
      : end.kind === 'draw'
        ? 'Minnows and pikes draw'
        : 'Nobody wins',
})
