import { useState } from 'preact/hooks'
import { HowToPlay } from './how-to-play.tsx'
import type { Entry } from './use-match.ts'
import { useMatches } from './use-matches.ts'
import './door.css'

export const titleOf = (name: string): string =>
  name.replaceAll(
    /(^|-)(\w)/g,
    (_all, dash: string, letter: string) => (dash ? ' ' : '') + letter.toUpperCase(),
  )

/** Which game, under which name, in a seat or only watching. */
export function Door({ enter }: { readonly enter: (entry: Entry) => void }) {
  const [name, setName] = useState('')
  const games = useMatches()
  const [game, choose] = useState<string>()
  const invited = new URLSearchParams(location.search).get('match') ?? undefined
  const modes = [...new Set(games.map(({ mode }) => mode))]
  const mode = game ?? modes[0]
  // Whoever comes by a link goes to that match; whoever chooses a game goes where there is room.
  const into = invited !== undefined ? { match: invited } : mode === undefined ? {} : { mode }
  const sit = (event: Event): void => {
    event.preventDefault()
    enter({ ...into, name: name.trim() || 'Guest' })
  }
  return (
    <form class="door" onSubmit={sit}>
      <h1>Fenwick Fair</h1>
      <p>
        {invited === undefined
          ? 'Take a seat, or only watch. Whoever opens this page in another window sits at the same table.'
          : 'Somebody has invited you to their table. Take a seat, or only watch.'}
      </p>
      {invited === undefined && modes.length > 1 && (
        <fieldset class="games">
          <legend>The game</legend>
          {modes.map((each) => (
            <label key={each}>
              <input
                type="radio"
                name="game"
                value={each}
                checked={each === mode}
                onChange={() => choose(each)}
              />
              {titleOf(each)}
            </label>
          ))}
        </fieldset>
      )}
      {invited === undefined && mode !== undefined && <HowToPlay mode={mode} />}
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
