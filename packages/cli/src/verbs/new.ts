import { existsSync, mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { Command } from 'commander'
import { CommandError, exit } from '../errors.ts'
import { pairs, print, printJson, strong } from '../print/output.ts'
import { exitWith, shared } from './options.ts'

/** zinc-referee new */
export const verb: Command = new Command('new')
  .argument('<name>')
  .addOption(shared.json)
  .action(exitWith(writeNew))

/** Writes a mode and its test into a new folder of that name. */
export function writeNew(name: string, options: { readonly json?: boolean }): number {
  if (!/^[a-z][a-z0-9]*(-[a-z0-9]+)*$/.test(name))
    throw new CommandError(
      `'${name}' cannot name a mode. Use small letters, digits and dashes, as in lamp-race.`,
    )
  if (existsSync(name))
    throw new CommandError(`There is a '${name}' here already. Choose another name, or move it away.`)
  const files = [
    { path: join(name, `${name}.ts`), text: mode(name) },
    { path: join(name, `${name}.test.ts`), text: modeTest(name) },
  ]
  mkdirSync(name)
  for (const { path, text } of files) writeFileSync(path, text)
  if (options.json) printJson({ name, files: files.map(({ path }) => path) })
  else {
    const [book = ''] = files.map(({ path }) => path)
    print(
      `${strong(name)}   a mode and its test`,
      pairs([
        ['made', files.map(({ path }) => path).join('   ')],
        ['next', `npx zinc-referee demo --rulebook ${book}`],
        ['', `npx zinc-referee serve --rulebook ${book}`],
        ['', `npx vitest run ${name}   (npm install --save-dev vitest)`],
      ]),
    )
  }
  return exit.done
}

const mode = (
  name: string,
): string => `import { defineRule, defineRulebook, everyone, int, minutes, owner, perSeat, refuse, seconds } from 'zinc-referee'
import { firstTo, mostAtTime, rounds, scores, verdict } from 'zinc-referee/rules'

/** Everyone lights lamps that only they can count, until they show them; the wind blows out one of each every 10 s. */
export const lamps = defineRule({
  name: 'lamps',
  needs: [rounds, scores],
  state: { shelf: perSeat({ lit: int(0).seenBy(owner), shown: int(0).seenBy(everyone) }) },
  actions: {
    light: {
      input: { lamps: int(1).between(1, 3) },
      decide(match, seat, input) { match.own.shelf.of(seat).lit += input.lamps },
    },
    show: {
      input: {},
      decide(match, seat) {
        const shelf = match.own.shelf.of(seat)
        if (shelf.lit === 0) return refuse('all-dark')
        const { lit } = shelf
        shelf.lit = 0
        shelf.shown += lit
        return match.use(scores).give({ seat, amount: lit, reason: 'shown' })
      },
    },
  },
  timers: {
    wind(match) {
      for (const seat of match.seats) {
        const shelf = match.own.shelf.of(seat)
        shelf.lit = Math.max(0, shelf.lit - 1)
      }
    },
  },
  on: {
    'rounds.began'(match) { match.timers.start('wind', { every: seconds(10) }) },
  },
})

export default defineRulebook({
  name: '${name}',
  seats: { min: 2, max: 6 },
  rules: [rounds({ length: minutes(2) }), scores, verdict({ when: [firstTo(40), mostAtTime] }), lamps],
})
`

const modeTest = (name: string): string => `import { playMatch } from 'zinc-referee/testing'
import { expect, test } from 'vitest'
import book from './${name}.ts'

test('the wind blows out a lamp of everyone every 10 s, and nobody else can count them', () => {
  const { match, replay } = playMatch(book, ['otter', 'heron'])
  match.submit('otter', 'lamps.light', { lamps: 3 })
  match.advanceTo(match.now + 10_000)
  expect(match.view('otter').lamps.shelf['otter']?.lit).toBe(2)
  expect(match.view('heron').lamps.shelf['otter']).toEqual({ shown: 0 })
  expect(match.submit('heron', 'lamps.show', {})).toEqual({ ok: false, code: 'all-dark' })
  expect(match.submit('otter', 'lamps.show', {})).toEqual({ ok: true })
  expect(match.state.scores.sums.of('otter').score).toBe(2)
  expect(replay().differs).toBeUndefined()
})
`
