import type { ebbPost } from '@zinc-referee/examples'
import type { NoticeFor } from 'zinc-referee'
import { pageOf, type Seen } from '../face.tsx'
import { counted, nameIn, namesIn, outcomeOf } from '../names.ts'
import { OnlyTheirs } from '../only-there.tsx'
import { SeatName } from '../seat-mark.tsx'
import { Letter } from './letter.tsx'
import { Orders } from './orders.tsx'
import { lettersIn, type PostView } from './post-view.ts'

/** Everyone's rack by colour, and how many letters each holds. */
function Racks({ view, viewer }: { readonly view: PostView; readonly viewer: string | null }) {
  return (
    <table>
      <thead>
        <tr>
          <th scope="col">Seat</th>
          <th scope="col">Rack</th>
          <th scope="col" class="number">
            In hand
          </th>
          <th scope="col" class="number">
            Points
          </th>
        </tr>
      </thead>
      <tbody>
        {Object.entries(view.roster.seats).map(([seat, row]) => (
          <tr key={seat} class={seat === viewer ? 'own' : ''}>
            <th scope="row">
              <SeatName seat={row} />
            </th>
            <td>
              <div class="shelf">
                {lettersIn(view, 'rack', seat).map(({ id, face }) => (
                  <Letter key={id} face={face} />
                ))}
              </div>
            </td>
            <td class="number">{view.letters.hands[seat]?.count ?? 0}</td>
            <td class="number score">{view.scores.sums[seat]?.score ?? 0}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

type Note = PostView['notebook']['notes'][string]['note']

function says(view: PostView, note: NonNullable<Note>): string {
  const who = nameIn(view, note.whose)
  if (note.about === 'whisper') return `${who} whispered: ${note.value === 0 ? 'no' : 'some'} ${note.colour}`
  const letter = `${note.colour} ${note.value}`
  if (note.about === 'peek') return `${who} held ${letter}`
  return note.about === 'got' ? `${letter} came from ${who}` : `${letter} went to ${who}`
}

/** What one has read, heard, passed and got: nobody else sees it. */
function Notes({ view }: { readonly view: PostView }) {
  const notes = Object.entries(view.notebook.notes).flatMap(([id, { note, at = 0 }]) =>
    note === undefined ? [] : [{ id, at, text: says(view, note) }],
  )
  if (notes.length === 0) return null
  return (
    <section aria-label="Notebook">
      <h3>Notebook</h3>
      <ul>
        {notes
          .sort((a, b) => a.at - b.at)
          .map(({ id, text }) => (
            <li key={id}>{text}</li>
          ))}
      </ul>
    </section>
  )
}

function Sight({ match, viewer }: Seen<PostView>) {
  const { view } = match.replica
  const looked = Object.entries(view.letters.cards).flatMap(([id, { place, holder, face }]) =>
    place === 'hand' && holder != null && holder !== viewer && face !== undefined
      ? [{ id, holder, face }]
      : [],
  )
  return (
    <>
      <p class="stand-line">
        Post {view.turns.now.cycle} of 4; {counted(view.letters.counts.of['sack'] ?? 0, 'letter')} in the sack
        {view.storm?.sky.colour != null && `; a storm holds up ${view.storm.sky.colour}`}
      </p>
      {viewer !== null && (
        <p class="stand-line">
          Your hand:{' '}
          {lettersIn(view, 'hand', viewer).map(({ id, face }) => (
            <OnlyTheirs key={id} cell={`letters.cards.${id}.face`}>
              <Letter face={face} />
            </OnlyTheirs>
          ))}
        </p>
      )}
      {looked.map(({ id, holder, face }) => (
        <p class="stand-line" key={id}>
          You look at {nameIn(view, holder)}'s <Letter face={face} />
        </p>
      ))}
      <Racks view={view} viewer={viewer} />
      <Notes view={view} />
    </>
  )
}

function tell({ name, cells }: NoticeFor<typeof ebbPost>, view: PostView): string | undefined {
  const who = (seat: unknown): string => nameIn(view, String(seat))
  switch (name) {
    case 'letters.moved':
      return cells.to === 'rack' ? `${who(cells.seat)} lays a letter` : undefined
    case 'mail.drew':
      return `${who(cells.seat)} draws a letter`
    case 'letters.passed':
      return cells.to === 'rack'
        ? `${who(cells.seat)} lays a letter on ${who(cells.toSeat)}'s rack`
        : `${who(cells.seat)} passes a letter to ${who(cells.toSeat)}`
    case 'mail.peeked':
      return `${who(cells.seat)} peeks at a letter of ${who(cells.whose)}`
    case 'mail.whispered':
      return `${who(cells.seat)} whispers to ${who(cells.to)}`
    case 'ebb.passed':
      return `Ebb after post ${cells.post}`
    case 'ebb.seal-sold':
      return cells.winners?.length
        ? `The wax seal goes to ${namesIn(view, cells.winners)}`
        : 'Nobody gets the wax seal'
    default:
      return undefined
  }
}

export const postPage = pageOf<PostView, NoticeFor<typeof ebbPost>>('ebb-post', {
  Orders,
  Sight,
  tell,
  outcome: outcomeOf,
})
