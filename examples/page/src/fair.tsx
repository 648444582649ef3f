import { useState } from 'preact/hooks'
import { brewFace } from './brew/brew-face.tsx'
import { Door } from './door.tsx'
import { Face } from './face.tsx'
import { kettleFace } from './kettle/kettle-face.tsx'
import { marketFace } from './market/market-face.tsx'
import { musselsFace } from './mussels/mussels-face.tsx'
import { Plain } from './plain/plain.tsx'
import { pondFace } from './pond/pond-face.tsx'
import { regattaFace } from './regatta/regatta-face.tsx'
import { stonesFace } from './stones/stones-face.tsx'
import { type Entry, useMatch } from './use-match.ts'

const SEAT = 'zinc-referee seat'

/** The seat that this tab has taken, if any. */
function known(): Entry | undefined {
  const kept = sessionStorage.getItem(SEAT)
  return kept === null ? undefined : JSON.parse(kept)
}

/** The door, then the match. A reload in the same tab comes back to the same seat. */
export function Fair() {
  const [entry, enter] = useState<Entry | undefined>(known)
  const goOut = (): void => {
    sessionStorage.removeItem(SEAT)
    enter(undefined)
  }
  return entry === undefined ? <Door enter={enter} /> : <Table entry={entry} goOut={goOut} />
}

function Table({ entry, goOut }: { readonly entry: Entry; readonly goOut: () => void }) {
  const { match, problem } = useMatch(entry)
  if (match?.player !== undefined)
    sessionStorage.setItem(SEAT, JSON.stringify({ ...entry, match: match.id, player: match.player }))
  if (problem !== undefined) {
    return (
      <div class="door" role="alert">
        <h1>The table is gone</h1>
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
  const { name } = match.rulebook
  if (name === 'reed-regatta') return <Face face={regattaFace} match={match} goOut={goOut} />
  if (name === 'hot-kettle') return <Face face={kettleFace} match={match} goOut={goOut} />
  if (name === 'pike-pond') return <Face face={pondFace} match={match} goOut={goOut} />
  if (name === 'stepping-stones') return <Face face={stonesFace} match={match} goOut={goOut} />
  if (name === 'spoiled-brew') return <Face face={brewFace} match={match} goOut={goOut} />
  if (name === 'lantern-market') return <Face face={marketFace} match={match} goOut={goOut} />
  if (name === 'mussel-dip') return <Face face={musselsFace} match={match} goOut={goOut} />
  return <Plain match={match} goOut={goOut} />
}
