import type { OwnSources } from '../modes/own-sources.ts'
import { placeText } from '../print/place-text.ts'
import type { Located } from '../print/sarif.ts'
import { placesIn } from '../print/stack-places.ts'

const TIME = 'Use match.time.'
const TIMERS = 'Use match.timers.'

/** Notes where code of the mode reads a clock or chance of its own, or waits for one, until it ends. */
export function watchClocks(sources: OwnSources): { end(): readonly Located[] } {
  const found = new Map<string, Located>()
  const note = (name: string, fix: string): void => {
    const place = placesIn(new Error(name).stack).find(({ path }) => sources.has(path))
    if (place === undefined) return
    found.set(`${name} ${placeText(place)}`, {
      kind: 'own-clock',
      name,
      says: 'A replay would give something else.',
      fix,
      place,
    })
  }
  const restore: (() => void)[] = []
  /** Calls go on as they did. */
  const watch = <O extends object>(of: O, member: keyof O & string, name: string, fix: string): void => {
    const was = of[member] as (...given: unknown[]) => unknown
    const watched = new Proxy(was, {
      apply(target, self, given) {
        note(name, fix)
        return Reflect.apply(target, self, given)
      },
      construct(target, given) {
        if (given.length === 0) note(`new ${name}`, fix)
        return Reflect.construct(target, given)
      },
    })
    Object.assign(of, { [member]: watched })
    restore.push(() => Object.assign(of, { [member]: was }))
  }
  watch(Math, 'random', 'Math.random', "Use match.chance('…').")
  watch(Date, 'now', 'Date.now', TIME)
  watch(performance, 'now', 'performance.now', TIME)
  watch(globalThis, 'Date', 'Date()', TIME)
  for (const name of ['setTimeout', 'setInterval', 'setImmediate'] as const)
    watch(globalThis, name, name, TIMERS)
  return {
    end() {
      for (const each of restore.reverse()) each()
      return [...found.values()]
    },
  }
}
