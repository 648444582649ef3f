import type { bellTide } from '@zinc-referee/examples'
import type { NoticeFor, ViewFor } from 'zinc-referee'
import type { Point } from 'zinc-referee/rules'
import { bell, crews, docks } from '../../../src/bell/pier.ts'
import { nearest } from '../../../src/points.ts'
import { pageOf, type Seen } from '../face.tsx'
import { nameIn } from '../names.ts'
import { CrewList } from './crew-list.tsx'
import { PierMap } from './pier-map.tsx'

/** What a viewer of Bell Tide sees. */
export type BellView = ViewFor<typeof bellTide>

const pointOf = ({
  x,
  y,
}: {
  readonly x?: number | undefined
  readonly y?: number | undefined
} = {}): Point | undefined => (x === undefined || y === undefined ? undefined : { x, y })

/** Places to walk to, and foes in sight to throw at. The map can be clicked, too. */
function Paws({ match, act }: Seen<BellView>) {
  const { view } = match.replica
  const seat = match.seat ?? ''
  const here = pointOf(view.areas.spots[seat])
  const isDown = view.vitals.body[seat]?.down ?? true
  const stones = view.tide.pockets[seat]?.stones ?? 0
  const lying = Object.values(view.areas.things).flatMap((thing) => pointOf(thing) ?? [])
  const walk = (text: string, to: Point | undefined) => (
    <button
      type="button"
      disabled={isDown || to === undefined}
      onClick={() => to && act?.('tide.walk', { x: to.x, y: to.y })}
    >
      {text}
    </button>
  )
  const foes = Object.keys(view.areas.spots).filter(
    (other) =>
      pointOf(view.areas.spots[other]) !== undefined &&
      view.teams.side[other]?.team !== view.teams.side[seat]?.team &&
      view.vitals.body[other]?.down === false,
  )
  if (view.roster.seats[seat]?.sidelined)
    return <p class="helm">You watch this round. You are on the pier again with the next one.</p>
  return (
    <fieldset class="helm">
      <legend class="unseen">You</legend>
      {walk('To the bell', bell)}
      {walk('To a dock', here && nearest(here, docks))}
      {walk('To a stone', here && nearest(here, lying))}
      {foes.map((foe) => (
        <button
          type="button"
          key={foe}
          disabled={isDown || stones === 0}
          onClick={() => act?.('tide.throw', { target: foe })}
        >
          Throw at {nameIn(view, foe)}
        </button>
      ))}
      <span>
        {isDown
          ? 'You are down, and will be back.'
          : view.roles.seats[seat]?.role === 'keeper'
            ? 'You are the bell keeper: your ringing counts double. Only you know.'
            : `You have ${stones} ${stones === 1 ? 'stone' : 'stones'}.`}
      </span>
    </fieldset>
  )
}

function Sight(seen: Seen<BellView>) {
  return (
    <>
      <PierMap {...seen} />
      <CrewList {...seen} />
    </>
  )
}

function tell({ name, cells }: NoticeFor<typeof bellTide>, view: BellView): string | undefined {
  const who = (seat: unknown): string => nameIn(view, String(seat))
  switch (name) {
    case 'phases.changed':
      return cells.to === 'live'
        ? 'The bell is free'
        : cells.to === 'break'
          ? 'The crews change ends'
          : undefined
    case 'tide.struck':
      return `${who(cells.by)} hits ${who(cells.seat)}`
    case 'credit.given':
      return cells.killer === null
        ? `${who(cells.seat)} goes down`
        : `${who(cells.killer)} brings ${who(cells.seat)} down`
    case 'tide.unmasked':
      return `${who(cells.seat)} was the bell keeper: ten seconds for the foes`
    case 'tide.lit':
      return `${who(cells.seat)} is lit up for all to see`
    case 'roles.assigned':
      return cells.role === 'keeper' ? 'You are the bell keeper' : undefined
    case 'respawn.back':
      return `${who(cells.seat)} is back`
    case 'rounds.overtime-began':
      return 'Level: the next full second decides'
    case 'rounds.ended':
      return `Round ${cells.round} is over`
    case 'idle.warned':
      return 'Move, or you will only watch'
    case 'roster.joined':
      return `${who(cells.seat)} takes a seat`
    case 'roster.left':
      return `${who(cells.seat)} has left`
    default:
      return undefined
  }
}

function outcome({ verdict: { end }, teams }: BellView): string {
  if (end.kind === 'none') return 'Nobody wins'
  if (end.kind === 'draw') return 'The crews draw'
  return `${crews[teams.side[end.winners[0] ?? '']?.team ?? 0]} wins`
}

export const bellPage = pageOf<BellView, NoticeFor<typeof bellTide>>('bell-tide', {
  Orders: Paws,
  Sight,
  tell,
  outcome,
})
