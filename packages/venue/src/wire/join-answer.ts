import type { Watchable } from '../matches/index.ts'
import type { Doors } from './doors.ts'
import type { Trail } from './trail.ts'

/** Returns the answer to `join` as JSON text. `view` and `missed` are texts already: they are its last member. */
export function joinAnswer(
  { id, match }: Watchable,
  { epoch, n }: Trail,
  { circuit }: Doors,
  rest: object,
  [name, text]: readonly [name: 'view' | 'missed', text: string],
): string {
  const others = circuit && { others: circuit.addresses() }
  const head = JSON.stringify({ match: id, mode: match.rulebook, epoch, n, ...others, ...rest })
  return `${head.slice(0, -1)},"${name}":${text}}`
}
