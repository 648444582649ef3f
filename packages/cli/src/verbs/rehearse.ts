import { availableParallelism } from 'node:os'
import { Command } from 'commander'
import { formatElapsed } from 'zinc-referee'
import {
  compareRehearsals,
  joinRehearsals,
  type Rehearsal,
  type RehearsalsCompared,
  type Share,
} from 'zinc-referee/testing'
import { CommandError, exit } from '../errors.ts'
import { loadMode } from '../modes/load-mode.ts'
import { runInParallel } from '../parallel/workers.ts'
import { faultLines } from '../print/fault-lines.ts'
import { columns, pairs, print, printJson, strong } from '../print/output.ts'
import { type RehearseOptions, runPart } from '../rehearsal/rehearse-part.ts'
import { exitWith, shared, whole } from './options.ts'

/** zinc-referee rehearse */
export const verb: Command = new Command('rehearse')
  .argument('[mode]', 'an example', 'reed-regatta')
  .addOption(shared.rulebook)
  .option('--matches <number>', 'play so many matches', whole, 200)
  .option('--seconds <number>', 'begin no match after this many seconds', whole)
  .option('--workers <number>', 'number of workers (default: one per core)', whole)
  .option('--random', "everyone plays at random, not by the mode's own bots")
  .option('--compare <file>', 'an older version of the rulebook: say what changed since')
  .addOption(shared.settings)
  .addOption(shared.with)
  .addOption(shared.seats)
  .addOption(shared.seed)
  .addOption(shared.json)
  .action(exitWith(rehearse))

/** Options of the verb, besides those of what is rehearsed. */
interface Options extends RehearseOptions {
  readonly matches: number
  readonly workers?: number
  readonly seconds?: number
  readonly compare?: string
  readonly json?: boolean
}

/** Plays matches of a mode by bots, and says how they went. */
export async function rehearse(name: string | undefined, options: Options): Promise<number> {
  if (options.matches === 0) throw new CommandError('Play at least one match: --matches 200.')
  if (options.workers === 0)
    throw new CommandError('There must be at least one worker. Leave --workers out for one per core.')
  const mode = await loadMode(name, options.rulebook)
  const went = await played(name, options)
  const code = went.faults.length === 0 && went.over === went.matches ? exit.done : exit.finding
  if (options.compare === undefined) {
    if (options.json) printJson(went)
    else show(went, mode.title)
    return code
  }
  const before = await played(undefined, { ...options, rulebook: options.compare })
  const compared = compareRehearsals(before, went)
  if (options.json) printJson({ before, now: went, compared })
  else showCompared(compared, mode.title, options)
  return code
}

/** Shares the matches out to the workers, in ranges. They come together in their order, however many workers there are. */
async function played(name: string | undefined, given: Options): Promise<Rehearsal> {
  const { matches, workers, seconds, compare: _compare, json: _json, ...options } = given
  const of = Math.min(matches, workers ?? availableParallelism())
  const latest = seconds === undefined ? {} : { latest: Date.now() + seconds * 1000 }
  const tasks = Array.from({ length: of }, (_, part) => ({
    name,
    options,
    from: Math.floor((part * matches) / of),
    to: Math.floor(((part + 1) * matches) / of),
    ...latest,
  }))
  const parts = await runInParallel(tasks, {
    module: new URL('../rehearsal/rehearse-part.js', import.meta.url),
    runPart,
    doing: (done, all) => `rehearsing   ${done} of ${all} matches`,
  })
  return joinRehearsals((await loadMode(name, options.rulebook)).rulebook.name, parts)
}

/** What is the same but for chance is left out. */
function showCompared(
  { shares, actions, length }: RehearsalsCompared,
  title: string,
  { matches, compare = '' }: Options,
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
