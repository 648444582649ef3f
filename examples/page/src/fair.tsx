import { useState } from 'preact/hooks'
import { bellPage } from './bell/bell-face.tsx'
import { brewPage } from './brew/brew-face.tsx'
import { Desk } from './desk/desk.tsx'
import { DeskDoor } from './desk/desk-door.tsx'
import { deskEntry } from './desk/desk-entry.ts'
import { Door } from './door.tsx'
import type { ModePage } from './face.tsx'
import { kettlePage } from './kettle/kettle-face.tsx'
import { marketPage } from './market/market-face.tsx'
import { musselsPage } from './mussels/mussels-face.tsx'
import { pondPage } from './pond/pond-face.tsx'
import { postPage } from './post/post-face.tsx'
import { regattaPage } from './regatta/regatta-face.tsx'
import { stonesPage } from './stones/stones-face.tsx'
import { type Entry, useMatch } from './use-match.ts'

/** Modes with a page of their own; any other is played at the desk. */
const PAGES: readonly ModePage[] = [
  bellPage,
  brewPage,
  kettlePage,
  marketPage,
  musselsPage,
  pondPage,
  postPage,
  regattaPage,
  stonesPage,
]
const SEAT = 'zinc-referee seat'

/** The seat that this tab has taken, if any. */
function known(): Entry | undefined {
  const kept = sessionStorage.getItem(SEAT)
  return kept === null ? undefined : JSON.parse(kept)
}

/** The door, then the match. A reload in the same tab comes back to the same seat. */
export function Fair() {
  const [entry, enter] = useState<Entry | undefined>(known)
  const desk = deskEntry()
  const goOut = (): void => {
    sessionStorage.removeItem(SEAT)
    enter(undefined)
  }
  if (desk === 'door') return <DeskDoor />
  if (desk !== undefined) return <Table entry={desk} goOut={toDeskDoor} atDesk />
  return entry === undefined ? <Door enter={enter} /> : <Table entry={entry} goOut={goOut} />
}

const toDeskDoor = (): void => {
  location.search = 'desk'
}

function Table({
  entry,
  goOut,
  atDesk = false,
}: {
  readonly entry: Entry
  readonly goOut: () => void
  readonly atDesk?: boolean
}) {
  const { match, problem } = useMatch(entry)
  if (match?.player !== undefined)
    sessionStorage.setItem(SEAT, JSON.stringify({ ...entry, match: match.id, player: match.player }))
  if (problem !== undefined) {
    return (
      <div class="door" role="alert">
        <h1>{match === undefined ? 'You could not come in' : 'Your game has ended'}</h1>
        <p>{problem}</p>
        <div class="row">
          <button type="button" class="main" onClick={() => location.reload()}>
            Try again
          </button>
          <button type="button" onClick={goOut}>
            To the door
          </button>
        </div>
      </div>
    )
  }
  if (match === undefined) return <p class="door">Going in…</p>
  const page = atDesk ? undefined : PAGES.find(({ rulebook }) => rulebook === match.mode)
  if (page !== undefined) return <page.Page match={match} goOut={goOut} />
  return <Desk entry={entry} match={match} goOut={goOut} />
}
