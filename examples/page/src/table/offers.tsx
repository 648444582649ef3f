import { useState } from 'preact/hooks'

/** As many letters as buttons may have together: about three lines of a phone. */
const MAX_LETTERS = 90

/** An action's options by their words: few of them as buttons, more as a list to choose from. Nothing where there is none. */
export function Offers<I extends object>({
  options: given,
  words,
  verb,
  choose,
}: {
  readonly options: readonly I[] | undefined
  /** An option in words: a button says them alone. */
  readonly words: (input: I) => string
  /** What the button beside a list says. */
  readonly verb: string
  readonly choose: (input: I) => void
}) {
  const [at, pick] = useState(0)
  if (given === undefined || given.length === 0) return null
  const options = given.toSorted((a, b) => words(a).localeCompare(words(b), undefined, { numeric: true }))
  if (options.map(words).join('').length <= MAX_LETTERS)
    return (
      <>
        {options.map((option) => (
          <button type="button" key={JSON.stringify(option)} onClick={() => choose(option)}>
            {words(option)}
          </button>
        ))}
      </>
    )
  const chosen = options[Math.min(at, options.length - 1)]
  return (
    <span class="row">
      <select
        aria-label={verb}
        value={Math.min(at, options.length - 1)}
        onChange={(event) => pick(Number(event.currentTarget.value))}
      >
        {options.map((option, each) => (
          <option key={JSON.stringify(option)} value={each}>
            {words(option)}
          </option>
        ))}
      </select>
      <button type="button" onClick={() => chosen !== undefined && choose(chosen)}>
        {verb}
      </button>
    </span>
  )
}
