import { useEffect, useState } from 'preact/hooks'
import type { Looked } from './data.ts'

/** What the page shows: a position, and as whom. It is in the address, so that a moment can be linked to. */
interface Moment {
  readonly position: number
  readonly a: string
  readonly b: string
}

export function useMoment({ entries, seats }: Looked): Moment & {
  set(change: Partial<Moment>): void
  /** Moves by so many positions, from where it is by then; without an end: to the first or the last. */
  move(by: number): void
} {
  const [moment, setMoment] = useState<Moment>(() => {
    const given = new URLSearchParams(location.hash.slice(1))
    const seat = (name: string, usual: string | undefined): string => {
      const asked = given.get(name) ?? ''
      return seats.includes(asked) || asked === 'spectator' ? asked : (usual ?? 'spectator')
    }
    const at = Number(given.get('at') ?? 0)
    const position = Number.isInteger(at) && at >= 0 && at < entries.length ? at : 0
    return { position, a: seat('a', seats[0]), b: seat('b', seats[1]) }
  })
  useEffect(() => {
    const { position, a, b } = moment
    // The address is changed when the hand rests: browsers allow only so many changes a second.
    const rest = setTimeout(() => history.replaceState(null, '', `#at=${position}&a=${a}&b=${b}`), 200)
    return () => clearTimeout(rest)
  }, [moment])
  return {
    ...moment,
    set: (change) => setMoment((before) => ({ ...before, ...change })),
    move: (by) =>
      setMoment((before) => ({
        ...before,
        position: Math.max(0, Math.min(entries.length - 1, before.position + by)),
      })),
  }
}
