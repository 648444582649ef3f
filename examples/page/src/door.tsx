import { useEffect, useState } from 'preact/hooks'
import type { Entry } from './use-match.ts'
import './door.css'

interface Listed {
  readonly id: string
  readonly mode: string
}

export const titleOf = (name: string): string =>
  name.replaceAll(
    /(^|-)(\w)/g,
    (_all, dash: string, letter: string) => (dash ? ' ' : '') + letter.toUpperCase(),
  )

/** Which game, under which name, in a seat or only watching. */
export function Door({ enter }: { readonly enter: (entry: Entry) => void }) {
  const [name, setName] = useState('')
  const [games, list] = useState<readonly Listed[]>([])
  const [game, choose] = useState<string>()
  useEffect(() => {
    fetch('/matches')
      .then((answer) => answer.json())
      .then(list, () => undefined)
  }, [])
  const match = game ?? games[0]?.id
  const into = match === undefined ? {} : { match }
  const sit = (event: Event): void => {
    event.preventDefault()
    enter({ ...into, name: name.trim() || 'Guest' })
  }
  return (
    <form class="door" onSubmit={sit}>
      <h1>Fenwick Fair</h1>
      <p>Take a seat, or only watch. Whoever opens this page in another window sits at the same table.</p>
      {games.length > 1 && (
        <fieldset class="games">
          <legend>The game</legend>
          {games.map(({ id, mode }) => (
            <label key={id}>
              <input type="radio" name="game" value={id} checked={id === match} onChange={() => choose(id)} />
              {titleOf(mode)}
            </label>
          ))}
        </fieldset>
      )}
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
        <button type="button" onClick={() => enter({ ...into, watch: 'spectator' })}>
          Watch
        </button>
      </div>
    </form>
  )
}
