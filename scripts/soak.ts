import { writeFileSync } from 'node:fs'
import fc from 'fast-check'
import { test } from 'vitest'
import { drawn } from '../packages/core/test/fuzz/drawn-settings.ts'
import { fuzzed, hold, played } from '../packages/core/test/fuzz/fuzzed-play.ts'

const RUNS = 40
const MINUTE = 60_000
const minutes = Number(process.env['SOAK_MINUTES'] ?? 5)
const first = Number(process.env['SOAK_SEED'] ?? Date.now() % 1_000_000)

/** What failed, shrunk, as a file that plays it again. */
const script = (counterexample: unknown): string => `import { test } from 'vitest'
import { hold } from './packages/core/test/fuzz/fuzzed-play.ts'

// npx vitest run --config vitest.soak.config.ts FILE
test('what the soak has found', () => hold(${JSON.stringify(counterexample, null, 1)} as any))
`

test(
  `soak for ${minutes} minutes`,
  () => {
    const until = Date.now() + minutes * MINUTE
    let shown = 0
    for (let seed = first; Date.now() < until; seed++) {
      const outcome = fc.check(fc.property(fuzzed, hold), { seed, numRuns: RUNS })
      if (outcome.failed) {
        const file = `soak-${seed}.test.ts`
        writeFileSync(file, script(outcome.counterexample?.[0]))
        throw new Error(`seed ${seed} failed; ${file} plays it again`, { cause: outcome.errorInstance })
      }
      if (Date.now() - shown < MINUTE / 4) continue
      shown = Date.now()
      const left = Math.max(0, Math.round((until - shown) / 1000))
      console.log(
        `seed ${seed}   ${left} s left   ${Object.entries(played)
          .map(([what, n]) => `${n} ${what}`)
          .join('   ')}`,
      )
    }
    console.log(
      `done   seeds from ${first}   ${Object.entries(played)
        .map(([what, n]) => `${n} ${what}`)
        .join('   ')}`,
    )
    const choices = [...drawn].sort(([, a], [, b]) => a - b)
    console.log(
      `choices: ${choices.length} of settings   the rarest: ${choices
        .slice(0, 12)
        .map(([choice, times]) => `${choice} ${times}`)
        .join(', ')}`,
    )
  },
  (minutes + 10) * MINUTE,
)
