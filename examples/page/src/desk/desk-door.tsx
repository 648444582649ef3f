import { useMatches } from '../use-matches.ts'
import '../door.css'

/** Which match, and under which name. Both go into the address: a reload comes back to the same desk. */
export function DeskDoor() {
  const matches = useMatches()
  return (
    <form
      class="door"
      onSubmit={(event) => {
        event.preventDefault()
        const data = new FormData(event.currentTarget)
        const [match, name] = [String(data.get('match')), String(data.get('name')).trim()]
        location.search = String(new URLSearchParams({ desk: match, name: name || 'Referee' }))
      }}
    >
      <h1>The referee’s desk</h1>
      <p>
        See what any seat sees, report facts, and direct the match. All of it is in the record, with your
        name.
      </p>
      {/* biome-ignore lint/a11y/noLabelWithoutControl: each branch is the control */}
      <label>
        The match
        {matches.length > 0 ? (
          <select name="match">
            {matches.map(({ id, mode }) => (
              <option key={id} value={id}>
                {id === mode ? id : `${id} (${mode})`}
              </option>
            ))}
          </select>
        ) : (
          <input name="match" required />
        )}
      </label>
      <label>
        Your name
        <input name="name" maxLength={24} placeholder="Referee" />
      </label>
      <button type="submit" class="main">
        Take the desk
      </button>
    </form>
  )
}
