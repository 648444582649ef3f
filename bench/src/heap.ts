import { happen, regatta } from './fleet.js'
import { hitMatch } from './report.js'

// Run by itself with --expose-gc: prints the bytes of a live match after 200 actions, its record aside.
const MATCHES = 300
const ACTIONS = 200
const heap = (): number => {
  globalThis.gc?.()
  globalThis.gc?.()
  return process.memoryUsage().heapUsed
}

/** Bytes that one of many matches takes, all of them live. As many before it, so that compiled code does not count. */
function bytesOf(played: (n: number) => { readonly now: number }): number {
  const warm = Array.from({ length: MATCHES }, (_, n) => played(n))
  const before = heap()
  const kept = Array.from({ length: MATCHES }, (_, n) => played(n + warm.length))
  const bytes = (heap() - before) / kept.length
  if ([...warm, ...kept].some(({ now }) => now === 0)) throw new Error('a match was not played')
  return Math.round(bytes)
}

const hit = bytesOf(() => {
  const { match, hits, times } = hitMatch()
  for (const [n, blow] of hits.slice(0, ACTIONS).entries()) {
    match.advanceTo(3000 + (times[n] ?? 0))
    match.report('blows.hit', blow)
    match.flush()
  }
  return match
})
const whole = bytesOf((n) => {
  const match = regatta(n)
  for (let each = 0; each < ACTIONS; each++) {
    match.advanceTo(match.now + 50)
    happen(match, each)
    match.flush()
  }
  return match
})
console.log(JSON.stringify({ hit, regatta: whole }))
