import { Left } from '../clock.tsx'
import type { Shown } from './shown.ts'

/** Countdowns of all timers that this view shows. */
export function Running({ match, rulebook, nameOf }: Shown) {
  const { view } = match.replica
  const running = rulebook.rules.flatMap(({ name: rule, timers }) =>
    timers.flatMap(({ name, clock }) =>
      Object.entries(Object(Object(view[rule])['timers']?.[name]))
        .filter((entry): entry is [string, number] => typeof entry[1] === 'number')
        .map(([key, due]) => ({ what: `${rule} ${name}`, key, due, clock })),
    ),
  )
  if (running.length === 0) return null
  return (
    <ul class="running">
      {running.map(({ what, key, due, clock }) => (
        <li key={`${what} ${key}`}>
          {what}
          {key === '' ? '' : ` of ${nameOf(key)}`} <Left match={match} due={due} clock={clock} />
        </li>
      ))}
    </ul>
  )
}
