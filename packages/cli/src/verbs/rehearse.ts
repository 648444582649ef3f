import { Command } from 'commander'
import { type AnyRulebook, formatElapsed } from 'zinc-referee'
import {
  compareRehearsals,
  type Rehearsal,
  type RehearsalsCompared,
  rehearse as rehearseMatches,
  type Share,
} from 'zinc-referee/testing'
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
  .option('--compare <file>', 'an older version of the rulebook: say what changed since')
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
  readonly compare?: string
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
  const play = (book: AnyRulebook): Rehearsal =>
    rehearseMatches(book, {
      seats: seatsOf(mode, options.seats).map(({ id }) => id),
      matches: options.matches,
      with: expansionsOf(book, options.with),
      settings: options.settings ?? {},
      seed: options.seed ?? demo.seed ?? 'fair-1',
      ...(crowd !== undefined && !options.random && { crowd: (seed) => crowd(seed) }),
    })
  const went = play(rulebook)
  const code = went.faults.length === 0 && went.over === went.matches ? exit.done : exit.finding
  if (options.compare === undefined) {
    if (options.json) printJson(went)
    else show(went, mode.title)
    return code
  }
  const older = await loadMode(undefined, options.compare)
  const before = play(older.rulebook)
  const compared = compareRehearsals(before, went)
  if (options.json) printJson({ before, now: went, compared })
  else showCompared(compared, mode.title, options)
  return code
}

/** What is the same but for chance is left out. */
function showCompared(
  { shares, actions, length }: RehearsalsCompared,
  title: string,
  { matches, compare = '' }: RehearseOptions,
): void {
  const apart = shares.filter(({ isApart }) => isApart)
  print(
    `${strong(title)}   ${matches} matches each, against ${compare}`,
    pairs([['length', `${formatElapsed(length.before)} before, ${formatElapsed(length.now)} now`]]),
    apart.length === 0
      ? `Of ${shares.length} shares of wins and endings, none differs by more than chance.`
      : columns(
          ['share', 'before', 'now', '95 % between'],
          apart.map(({ what, name, before, now, interval: [low, high] }) => [
            `${what} ${name}`,
            percent(before),
            percent(now),
            `${signed(low)} and ${signed(high)}`,
          ]),
        ),
    columns(
      ['action', 'before', 'now'],
      actions.map(({ name, before, now }) => [name, before.toFixed(1), now.toFixed(1)]),
    ),
  )
}

const signed = (part: number): string => `${part < 0 ? '−' : '+'}${percent(Math.abs(part))}`

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
