import { writeFileSync } from 'node:fs'
import { modes } from '@zinc-referee/examples'
import fc from 'fast-check'
import { test } from 'vitest'
import { auditSight, randomCrowd } from 'zinc-referee/testing'
import { drawn } from '../packages/core/test/fuzz/drawn-settings.ts'
import { fuzzed, hold, played } from '../packages/core/test/fuzz/fuzzed-play.ts'
import { bookAndHistories } from '../packages/core/test/generated/for-all.ts'
import { holdLaws } from '../packages/core/test/generated/hold-laws.ts'

const RUNS = 40
/** A mode is audited at every so many seeds, each in its turn: it takes as long as a hundred matches. */
const AUDIT_EVERY = 5
const MINUTE = 60_000
const minutes = Number(process.env['SOAK_MINUTES'] ?? 5)
const first = Number(process.env['SOAK_SEED'] ?? Date.now() % 1_000_000)

/** A property, how often it is tried for a seed, and how a file calls it that plays its counterexample again. */
const hunts = [
  {
    law: fc.property(fuzzed, hold),
    runs: RUNS,
    from: "{ hold } from './packages/core/test/fuzz/fuzzed-play.ts'",
    call: (example: readonly unknown[]) => `hold(${JSON.stringify(example[0], null, 1)} as any)`,
  },
  {
    law: fc.property(bookAndHistories, (all) => {
      holdLaws(...all)
      hunted['rulebooks generated'] += 1
    }),
    runs: 1,
    from: "{ holdLaws } from './packages/core/test/generated/hold-laws.ts'",
    call: (example: readonly unknown[]) => `holdLaws(...(${JSON.stringify(example[0], null, 1)} as any))`,
  },
]
const hunted = { 'rulebooks generated': 0, 'modes audited': 0, 'pairs compared': 0 }

/** Plays what a seed gives, and throws with the file that plays what failed again, shrunk. */
function hunt(seed: number): void {
  for (const { law, runs, from, call } of hunts) {
    const outcome = fc.check<[unknown]>(law as fc.IProperty<[unknown]>, { seed, numRuns: runs })
    if (!outcome.failed) continue
    const file = `soak-${seed}.test.ts`
    const lines = [
      "import { test } from 'vitest'",
      `import ${from}`,
      '',
      '// npx vitest run --config vitest.soak.config.ts FILE',
      `test('what the soak has found', () => ${call(outcome.counterexample ?? [])})`,
    ]
    writeFileSync(file, `${lines.join('\n')}\n`)
    throw new Error(`seed ${seed} failed; ${file} plays it again`, { cause: outcome.errorInstance })
  }
}

/** The whole sight audit of one mode, of which the tests take a part. */
function audit(seed: number): void {
  const all = Object.entries(modes)
  const found = all[Math.floor(seed / AUDIT_EVERY) % all.length]
  if (found === undefined) return
  const [name, { rulebook, demo }] = found
  const crowd = () => demo.crowd?.(`fair-${seed}`) ?? randomCrowd(`fair-${seed}`)
  const seats = (demo.seats ?? []).slice(0, Math.max(4, rulebook.plan.seatLimits.min)).map(({ id }) => id)
  const { leaks, faults, compared } = auditSight(rulebook, {
    seed: `fair-${seed}`,
    seats,
    crowd,
    with: rulebook.optional,
    until: 5 * MINUTE,
  })
  hunted['modes audited'] += 1
  hunted['pairs compared'] += compared
  if (leaks.length + faults.length > 0)
    throw new Error(
      `npx zinc-referee sightcheck ${name} --with all --seed fair-${seed} --seats ${seats.length} looks at it again: ${JSON.stringify([...leaks, ...faults])}`,
    )
}

const counts = (): string =>
  Object.entries({ ...played, ...hunted })
    .map(([what, n]) => `${n} ${what}`)
    .join('   ')

test(
  `soak for ${minutes} minutes`,
  () => {
    const until = Date.now() + minutes * MINUTE
    let shown = 0
    for (let seed = first; Date.now() < until; seed++) {
      hunt(seed)
      if (seed % AUDIT_EVERY === 0) audit(seed)
      if (Date.now() - shown < MINUTE / 4) continue
      shown = Date.now()
      const left = Math.max(0, Math.round((until - shown) / 1000))
      console.log(`seed ${seed}   ${left} s left   ${counts()}`)
    }
    console.log(`done   seeds from ${first}   ${counts()}`)
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
