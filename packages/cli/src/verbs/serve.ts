import { setTimeout as sleep } from 'node:timers/promises'
import { modes, pageFolder } from '@zinc-referee/examples'
import { type HostedMatch, openVenue, VenueError } from '@zinc-referee/venue'
import { Command } from 'commander'
import { beatOnce, FaultKinds, randomCrowd } from 'zinc-referee/testing'
import { CommandError, exit } from '../errors.ts'
import { expansionsOf } from '../modes/expansions.ts'
import { type LoadedMode, loadMode } from '../modes/load-mode.ts'
import { fillWithBots } from '../play/bots.ts'
import { faultLines } from '../print/fault-lines.ts'
import { pairs, print, strong } from '../print/output.ts'
import { exitWith, shared, whole } from './options.ts'

/** zinc-referee serve */
export const verb: Command = new Command('serve')
  .argument('[mode]', 'an example; default: all of them')
  .addOption(shared.rulebook)
  .option('--port <number>', 'port to listen on; 0 picks a free one', whole, 4600)
  .option('--seed <text>', 'seed of the matches (default: random)')
  .addOption(shared.with)
  .option('--records <folder>', 'folder for the records', 'records')
  .option('--delay <seconds>', 'delay for spectators, in seconds', whole, 0)
  .option('--no-bots', 'leave empty seats empty')
  .action(exitWith(serve))

export interface ServeOptions {
  readonly rulebook?: string
  readonly port: number
  readonly seed?: string
  readonly records: string
  readonly with?: readonly string[]
  /** Delay for spectators, in seconds. */
  readonly delay: number
  /** False with --no-bots. */
  readonly bots: boolean
}

/** Hosts one match of a mode, or of each example, and the page to play them on, until it is interrupted. */
export async function serve(name: string | undefined, options: ServeOptions): Promise<number> {
  const all = name === undefined && options.rulebook === undefined ? Object.keys(modes) : [name]
  const served = new Map<string, LoadedMode>()
  for (const each of all) {
    const mode = await loadMode(each, options.rulebook)
    mode.rulebook.planWith(expansionsOf(mode.rulebook, options.with)) // throws before anything is opened
    served.set(mode.rulebook.name, mode)
  }
  const faults = new FaultKinds()
  const venue = await openVenue({
    port: options.port,
    records: options.records,
    rulebooks: [...served.values()].map(({ rulebook }) => rulebook),
    onBroken: ({ message }) => console.error(message),
    page: pageFolder,
    allowViewAsAnySeat: true,
    onFault(fault) {
      const known = faults.all().length
      faults.add(fault)
      // Each kind is printed once, as soon as it happens, so that whoever tries a mode out does not miss it.
      for (const line of faultLines(faults.all().slice(known))) console.error(line)
    },
    joined(hosted) {
      const mode = served.get(hosted.id)
      if (options.bots && mode !== undefined) fillWithBots(hosted, mode)
    },
  }).catch((error: unknown) => {
    throw error instanceof VenueError ? new CommandError(error.message) : error
  })
  const stop = new AbortController()
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => stop.abort(signal))
  const goesOn = venue.matches.length > 0
  const hosting = [...served.values()].map((mode) => {
    const { name: id } = mode.rulebook
    const left = venue.matches.find((hosted) => hosted.id === id)
    const hosted =
      left ??
      venue.begin(id, mode.rulebook, {
        spectatorDelay: options.delay * 1000,
        with: expansionsOf(mode.rulebook, options.with),
        ...(options.seed !== undefined && { seed: options.seed }),
      })
    return { hosted, mode }
  })
  announce(hosting, venue.url, options, goesOn)
  await Promise.all(hosting.map(({ hosted, mode }) => beat(hosted, mode, options, stop.signal)))
  const what = hosting.length === 1 ? 'The match is' : 'The matches are'
  if (stop.signal.reason === 'SIGTERM') {
    await venue.suspend()
    print(`${what} suspended. Serve again with the same records to go on.`)
  } else {
    await venue.close()
    print(`${what} closed, with whole records.`)
  }
  return exit.done
}

interface Hosting {
  readonly hosted: HostedMatch
  readonly mode: LoadedMode
}

function announce(all: readonly Hosting[], url: string, { bots }: ServeOptions, goesOn: boolean): void {
  const filled = bots ? '   bots fill the empty ones' : ''
  print(
    all
      .map(({ mode: { title, rulebook } }) => {
        const { min, max } = rulebook.plan.room
        return `${strong(title)}   ${min} to ${max} seats${filled}`
      })
      .join('\n'),
    pairs([
      ['page', url],
      ['record', all.map(({ hosted }) => hosted.record ?? '').join('\n         ')],
      ...(goesOn ? [['goes on', 'from where the records end'] as const] : []),
      ['next', 'open the page in two windows; Ctrl-C ends the match and its record'],
    ]),
  )
}

/**
 * Plays one beat of the crowd: it drives the bots, and its simulation reports facts. Both belong to the game, not to
 * the venue.
 */
async function beat(
  hosted: HostedMatch,
  mode: LoadedMode,
  { seed = 'fair-1', bots }: ServeOptions,
  signal: AbortSignal,
): Promise<void> {
  const crowd = mode.demo.crowd?.(seed) ?? randomCrowd(seed)
  while (!signal.aborted) {
    if (hosted.match.allSeats.length > 0) {
      hosted.run((match) => beatOnce(match, crowd, (seat) => bots && match.state.roster.seats.of(seat).bot))
      if (bots) fillWithBots(hosted, mode)
    }
    await sleep(crowd.every, undefined, { signal }).catch(() => undefined)
  }
}
