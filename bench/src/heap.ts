import { happen, regatta } from './fleet.js'

// Run by itself with --expose-gc: prints the bytes of a live match after 200 actions, its record aside.
const MATCHES = 300
const heap = (): number => {
  globalThis.gc?.()
  globalThis.gc?.()
  return process.memoryUsage().heapUsed
}
function played(n: number) {
  const match = regatta(n)
  for (let each = 0; each < 200; each++) {
    match.advanceTo(match.now + 50)
    happen(match, each)
    match.flush()
  }
  return match
}
const warm = Array.from({ length: 20 }, (_, n) => played(n))
const before = heap()
const kept = Array.from({ length: MATCHES }, (_, n) => played(n + warm.length))
console.log(Math.round((heap() - before) / kept.length))
if (kept.some(({ now }) => now === 0)) process.exitCode = 1
