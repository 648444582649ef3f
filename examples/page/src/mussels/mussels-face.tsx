import type { musselDip } from '@zinc-referee/examples'
import { useState } from 'preact/hooks'
import type { NoticeFor, ViewFor } from 'zinc-referee'
import { beach } from '../../../src/mussels/beach.ts'
import { Left } from '../clock.tsx'
import { pageOf, type Seen } from '../face.tsx'
import { nameIn, namesIn } from '../names.ts'
import { OnlyTheirs } from '../only-there.tsx'
import { HiddenBlank, SeatName } from '../seat-mark.tsx'
import { Board } from '../table/board.tsx'
import { TurnLine } from '../table/turn-line.tsx'
import { Shell } from './shell.tsx'
import './mussels-face.css'

type DipView = ViewFor<typeof musselDip>

const PLACES = Array.from({ length: beach.places }, (_, n) => n + 1)
function Orders({ match }: Seen<DipView>) {
  const { view } = match.replica
  const { question, seats } = view.naming
  if (!question.open) return <TurnLine match={match} />
  const { asked = false, chosen = false } = seats[match.seat ?? ''] ?? {}
  const says = !asked
    ? 'You lifted what was not yours: you name nothing.'
    : chosen
      ? 'You have named two places; name two others, or wait.'
      : 'Name in secret two places to swap.'
  return (
    <p class="turn-line">
      <strong>The tide is in.</strong> {says}{' '}
      {question.until !== null && <Left match={match} due={question.until} clock="play" />}
    </p>
  )
}

/** What choosing a place does: lifting and peeking in one's turn, naming while the tide is in. */
function useChoice({ match, act }: Seen<DipView>) {
  const [what, choose] = useState<'lift' | 'peek'>('lift')
  const [first, pick] = useState<number | undefined>(undefined)
  const { dip, naming } = match.replica.view
  const isIn = naming.question.open && naming.seats[match.seat ?? '']?.asked === true
  const lying = new Set(Object.values(dip.mussels).map(({ place }) => place))
  const name = (place: number): void => {
    if (first !== undefined && first !== place) act?.('naming.choose', { choice: [first, place] })
    pick(first === undefined ? place : undefined)
  }
  const offered = new Set((dip.options?.[what] ?? []).map(({ place }) => place))
  return {
    what,
    choose,
    picked: isIn ? first : undefined,
    isTurn: act !== undefined && !isIn && offered.size > 0,
    of(place: number): { readonly says: string; readonly does: () => void } | undefined {
      if (act === undefined) return undefined
      if (isIn) return lying.has(place) ? { says: 'name', does: () => name(place) } : undefined
      return offered.has(place) ? { says: what, does: () => act(`dip.${what}`, { place }) } : undefined
    },
  }
}

function Shallows(seen: Seen<DipView>) {
  const { view } = seen.match.replica
  const choice = useChoice(seen)
  const own = (seen.viewer === null ? undefined : view.naming.seats[seen.viewer]?.choice) ?? []
  const isNamed = (place: number): boolean =>
    choice.picked === undefined ? own.includes(place) : choice.picked === place
  const mussels = new Map(
    Object.entries(view.dip.mussels).map(([id, mussel]) => [mussel.place, { id, ...mussel }]),
  )
  return (
    <>
      {choice.isTurn && (
        <fieldset class="helm">
          <legend class="unseen">What to do with a place</legend>
          {(['lift', 'peek'] as const).map((each) => (
            <button
              type="button"
              key={each}
              aria-pressed={choice.what === each}
              onClick={() => choice.choose(each)}
            >
              {each === 'lift' ? 'Lift one' : 'Peek at one'}
            </button>
          ))}
          <span>{choice.what === 'lift' ? 'All will see it.' : 'You alone will see it.'}</span>
        </fieldset>
      )}
      <div class={view.naming.question.open ? 'shallows flooded' : 'shallows'}>
        <Board
          label="The shallows"
          columns={beach.inRow}
          cells={PLACES.map((place) => {
            const mussel = mussels.get(place)
            const can = choice.of(place)
            const what = mussel === undefined ? 'empty' : (mussel.kind ?? 'face down')
            return {
              key: String(place),
              label: `${can === undefined ? 'place' : can.says} ${place} ${what}${isNamed(place) ? ' named' : ''}`,
              shows: mussel !== undefined && (
                <>
                  <Shell kind={mussel.kind} />
                  <span>
                    <small>{place}</small>{' '}
                    {mussel.kind !== undefined && (
                      <OnlyTheirs cell={`dip.mussels.${mussel.id}.kind`}>
                        <strong>{mussel.kind}</strong>
                      </OnlyTheirs>
                    )}
                    {isNamed(place) && <small>named</small>}
                  </span>
                </>
              ),
              choose: can?.does,
            }
          })}
        />
      </div>
    </>
  )
}

const countOf = (kind: string, kinds: readonly string[]): number =>
  kinds.filter((each) => each === kind).length

/** Wishes are their owner's until the end; what was found is for all to see. */
function Lists({ view, viewer }: { readonly view: DipView; readonly viewer: string | null }) {
  return (
    <table>
      <thead>
        <tr>
          <th scope="col">Seat</th>
          <th scope="col">Wishes</th>
          <th scope="col">Found</th>
          <th scope="col">Named</th>
        </tr>
      </thead>
      <tbody>
        {Object.entries(view.roster.seats).map(([seat, row]) => {
          const { wishes, found = [] } = view.dip.lists[seat] ?? {}
          return (
            <tr key={seat} class={seat === viewer ? 'own' : ''}>
              <th scope="row">
                <SeatName seat={row} />
              </th>
              <td>
                <OnlyTheirs cell={`dip.lists.${seat}.wishes`}>
                  {wishes?.join(', ') ?? <HiddenBlank what="wishes" />}
                </OnlyTheirs>
              </td>
              <td>
                {[...new Set(found)].map((kind) => `${countOf(kind, found)} ${kind}`).join(', ') || 'none'}
              </td>
              <td>
                {view.dip.lists[seat]?.silent
                  ? 'nothing'
                  : view.naming.question.open && (view.naming.seats[seat]?.chosen ? 'yes' : 'not yet')}
              </td>
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}

function tell({ name, cells }: NoticeFor<typeof musselDip>, view: DipView): string | undefined {
  const who = (seat: unknown): string => nameIn(view, String(seat))
  switch (name) {
    case 'dip.peeked':
      return `${who(cells.seat)} peeks at ${cells.place}`
    case 'dip.lifted':
      return `${who(cells.seat)} lifts ${cells.place}, a ${cells.kind}${cells.kept === true ? ' and keeps it' : ''}`
    case 'naming.opened':
      return 'The tide comes in'
    case 'dip.mixed':
      return 'The tide goes out: what lies where is open again'
    default:
      return undefined
  }
}

export const musselsPage = pageOf<DipView, NoticeFor<typeof musselDip>>('mussel-dip', {
  Orders,
  Sight: (seen) => (
    <>
      <Shallows {...seen} />
      <Lists view={seen.match.replica.view} viewer={seen.viewer} />
    </>
  ),
  tell,
  outcome: ({ verdict: { end }, ...view }) =>
    end.kind === 'win' ? `${namesIn(view, end.winners)} filled the list` : 'Nobody wins',
})
