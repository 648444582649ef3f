import { useState } from 'preact/hooks'
import { Plain } from './plain/plain.tsx'
import { RegattaFace } from './regatta/regatta-face.tsx'
import { type Entry, useMatch } from './use-match.ts'

const PLAYER = 'zinc-referee player'
const NAME = 'zinc-referee name'

/** The door, then the match. A reload in the same tab comes back to the same seat. */
export function Fair() {
  const known = sessionStorage.getItem(PLAYER)
  const [entry, enter] = useState<Entry | undefined>(
    known === null ? undefined : { player: known, name: sessionStorage.getItem(NAME) ?? 'Guest' },
  )
  const goOut = (): void => {
    sessionStorage.removeItem(PLAYER)
    enter(undefined)
  }
  return entry === undefined ? <Door enter={enter} /> : <Table entry={entry} goOut={goOut} />
}

function Door({ enter }: { readonly enter: (entry: Entry) => void }) {
  const [name, setName] = useState('')
  const sit = (event: Event): void => {
    event.preventDefault()
    enter({ name: name.trim() || 'Guest' })
  }
  return (
    <form class="door" onSubmit={sit}>
      <h1>Fenwick Fair</h1>
      <p>Take a seat, or only watch. Whoever opens this page in another window sits at the same table.</p>
      <label>
        Your name
        <input
          value={name}
          maxLength={24}
          placeholder="Guest"
          onInput={(event) => setName(event.currentTarget.value)}
        />
      </label>
      <div class="row">
        <button type="submit" class="main">
          Take a seat
        </button>
        <button type="button" onClick={() => enter({ watch: 'spectator' })}>
          Watch
        </button>
      </div>
    </form>
  )
}

function Table({ entry, goOut }: { readonly entry: Entry; readonly goOut: () => void }) {
  const { match, trouble } = useMatch(entry)
  if (match?.player !== undefined) {
    sessionStorage.setItem(PLAYER, match.player)
    sessionStorage.setItem(NAME, entry.name ?? 'Guest')
  }
  if (trouble !== undefined) {
    return (
      <div class="door" role="alert">
        <h1>The table is gone</h1>
        <p>{trouble}</p>
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
  return match.rulebook.name === 'reed-regatta' ? (
    <RegattaFace match={match} goOut={goOut} />
  ) : (
    <Plain match={match} goOut={goOut} />
  )
}
