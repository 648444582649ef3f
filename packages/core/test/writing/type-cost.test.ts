import { execFileSync } from 'node:child_process'
import { mkdirSync, rmSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { afterAll, expect, test } from 'vitest'

const folder = fileURLToPath(new URL('../../.types/', import.meta.url))
const tsc = fileURLToPath(new URL('../../../../node_modules/typescript/bin/tsc', import.meta.url))
/** One and a half times what they took when this was written. */
const MAX_INSTANTIATIONS = 175_000

const times = <T>(n: number, make: (n: number) => T): T[] => Array.from({ length: n }, (_, at) => make(at))
const rule = (r: number): string => `export const rule${r} = defineRule({
  name: 'rule${r}',
  ${r === 0 ? '' : `needs: [rule${r - 1}],`}
  state: { row: perSeat({ ${times(8, (f) => `f${f}: int(${f}).seenBy(everyone)`).join(', ')} }) },
  actions: {
    ${times(
      5,
      (a) => `a${a}: {
      input: { to: seatRef(), n: int() },
      decide(match, seat, { n }) {
        if (n < 0) return refuse('r${r}-${a}')
        match.own.row.of(seat).f${a} += n
        return undefined
      },
    },`,
    ).join('\n    ')}
  },
})`
const source = [
  "import { beginMatch, defineRule, defineRulebook, everyone, int, perSeat, refuse, seatRef } from 'zinc-referee'",
  ...times(20, rule),
  `const rules = [${times(20, (r) => `rule${r}`).join(', ')}] as const`,
  "const match = beginMatch(defineRulebook({ name: 'many', seats: { min: 1, max: 2 }, rules }), { seed: 'x' })",
  ...times(100, (n) => `match.submit('otter', 'rule${n % 20}.a${n % 5}', { to: 'heron', n: ${n} })`),
].join('\n')

afterAll(() => rmSync(folder, { recursive: true }))

function instantiationsOf(program: string): number {
  writeFileSync(`${folder}many.ts`, program)
  const output = execFileSync(process.execPath, [tsc, '-p', folder, '--extendedDiagnostics'], {
    encoding: 'utf8',
  })
  return Number(/Instantiations:\s+(\d+)/.exec(output)?.[1])
}

test('20 rules of 8 cells and 5 actions, with 100 typed submits, stay cheap to type-check', () => {
  mkdirSync(folder, { recursive: true })
  // Against the library as it is built: its source takes five times as long, and no mode's author pays for that.
  const compilerOptions = { customConditions: [] }
  writeFileSync(
    `${folder}tsconfig.json`,
    JSON.stringify({ extends: '../../../tsconfig.test.json', include: ['*.ts'], compilerOptions }),
  )
  const rules = instantiationsOf(source)
  expect(rules).toBeGreaterThan(10_000)
  expect(rules).toBeLessThanOrEqual(MAX_INSTANTIATIONS)
})
