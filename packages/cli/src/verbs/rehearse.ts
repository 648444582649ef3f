import { Command } from 'commander'
import { formatElapsed } from 'zinc-referee'
import { type Rehearsal, rehearse as rehearseMatches, type Share } from 'zinc-referee/testing'
import { CommandError, exit } from '../errors.ts'
import { expansionsOf } from '../modes/expansions.ts'
import { loadMode } from '../modes/load-mode.ts'
import { seatsOf } from '../play/play-demo.ts'
import { faultLines } from '../print/fault-lines.ts'
import { columns, pairs, print, printJson, strong } from '../print/output.ts'
import { exitWith, shared, whole } from './options.ts'

/** zinc-referee rehearse */
export const verb: Command = new Command('rehearse')
  .argument('[mode]', 'an example', 'reed-regatta')
  .addOption(shared.rulebook)
  .option('--matches <number>', 'play so many matches', whole, 200)
  .option('--random', "everyone plays at random, not by the mode's own bots")
  .addOption(shared.settings)
  .addOption(shared.with)
  .addOption(shared.seats)
  .addOption(shared.seed)
  .addOption(shared.json)
  .action(exitWith(rehearse))

interface RehearseOptions {
  readonly rulebook?: string
  readonly matches: number
  readonly random?: boolean
  readonly settings?: object
  readonly with?: readonly string[]
  readonly seats?: number
  readonly seed?: string
  readonly json?: boolean
}

/** Plays matches of a mode by bots, and says how they went. */
export async function rehearse(name: string | undefined, options: RehearseOptions): Promise<number> {
  if (options.matches === 0) throw new CommandError('Play at least one match: --matches 200.')
  const mode = await loadMode(name, options.rulebook)
  const { rulebook, demo } = mode
  const { crowd } = demo
  const went = rehearseMatches(rulebook, {
    seats: seatsOf(mode, options.seats).map(({ id }) => id),
    matches: options.matches,
    with: expansionsOf(rulebook, options.with),
    settings: options.settings ?? {},
    seed: options.seed ?? demo.seed ?? 'fair-1',
    ...(crowd !== undefined && !options.random && { crowd: (seed) => crowd(seed) }),
  })
  if (options.json) printJson(went)
  else show(went, mode.title)
  return went.faults.length === 0 && went.over === went.matches ? exit.done : exit.finding
}

function show(went: Rehearsal, title: string): void {
  const { matches, over, endings, lengths, seats, sides, starter, actions, faults } = went
  const [tenth, half, nineTenths] = lengths.map((ms) => formatElapsed(ms))
  const won = [...sides, ...(starter === undefined ? [] : [starter]), ...seats]
  print(
    `${strong(title)}   ${matches} matches, ${over === matches ? 'all' : over} to their end`,
    pairs([
      ['length', `${half} in the middle, eight of ten from ${tenth} to ${nineTenths}`],
      ['endings', endings.map(({ name, times }) => `${name} ${times}`).join(', ')],
    ]),
    ...(won.length === 0
      ? []
      : [columns(['wins', 'times', 'of', 'share', '95 % between'], won.map(shareRow))]),
    columns(
      ['action', 'a match'],
      actions.map(({ name, times }) => [name, (times / matches).toFixed(1)]),
    ),
    ...faultLines(faults),
  )
}

const shareRow = ({ name, times, of, interval: [low, high] }: Share): string[] => [
  name,
  String(times),
  String(of),
  percent(times / of),
  `${percent(low)} and ${percent(high)}`,
]

const percent = (part: number): string => `${Math.round(part * 100)} %`
