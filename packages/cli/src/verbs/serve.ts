import { readFileSync } from 'node:fs'
import { modesByName, pageFolder } from '@zinc-referee/examples/by-name'
import {
  type HostedMatch,
  openVenue,
  runWorker,
  thisWorker,
  type Venue,
  VenueError,
  type VenueOptions,
} from '@zinc-referee/venue'
import { Command } from 'commander'
import { pino } from 'pino'
import { beatOnce, FaultKinds, randomCrowd } from 'zinc-referee/testing'
import { CommandError, exit } from '../errors.ts'
import { expansionsOf } from '../modes/expansions.ts'
import { type LoadedMode, loadMode } from '../modes/load-mode.ts'
import { fillWithBots } from '../play/bots.ts'
import { faultLines } from '../print/fault-lines.ts'
import { pairs, print, strong } from '../print/output.ts'
import { plainLog } from '../print/plain-log.ts'
import { exitWith, shared, whole } from './options.ts'
import { announceCircuit, type CircuitOptions, circuitOptions, joinCircuit } from './serve-circuit.ts'
import { serveByWorkers } from './serve-workers.ts'

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
  .option('--host <address>', 'address to listen on; others than this machine need --keys', '127.0.0.1')
  .option('--keys <file>', 'JSON file of the keys (JWK) that sign admissions')
  .option('--tcp <number>', 'port for messages as lines over TCP; 0 picks a free one', whole)
  .option('--cert <file>', 'certificate for TLS, as PEM; with --cert-key')
  .option('--cert-key <file>', 'its key, as PEM')
  .option('--workers <number>', 'spread the matches over so many processes', whole)
  .option('--keep-for <days>', 'remove records of matches that ended longer ago', whole)
  .option('--log', 'print a JSON line for each thing that an operator looks for')
  .action(exitWith(serve))
for (const option of circuitOptions) verb.addOption(option)

export interface ServeOptions extends CircuitOptions {
  readonly rulebook?: string
  readonly port: number
  readonly seed?: string
  readonly records: string
  readonly with?: readonly string[]
  /** Delay for spectators, in seconds. */
  readonly delay: number
  /** False with --no-bots. */
  readonly bots: boolean
  readonly host?: string
  readonly keys?: string
  readonly tcp?: number
  readonly cert?: string
  readonly certKey?: string
  readonly workers?: number
  /** How long records of ended matches are kept, in days. */
  readonly keepFor?: number
  readonly log?: boolean
}

/** Hosts one match of a mode, or of each example, and the page to play them on, until it is interrupted. */
export async function serve(name: string | undefined, options: ServeOptions): Promise<number> {
  const worker = thisWorker()
  if (options.workers !== undefined && worker === undefined && options.circuit === undefined)
    return serveByWorkers(options.workers, given(options), options.records)
  const served = await loadAll(name, options)
  const faults = new FaultKinds()
  const stop = new AbortController()
  const circuit = await joinCircuit(options, [...served.keys()], logOf(options))
  const venue = await (worker === undefined ? openVenue : runWorker)({
    ...given(options),
    ...(circuit && { circuit }),
    hosting(hosted) {
      const mode = served.get(hosted.match.rulebook)
      if (mode !== undefined) play(hosted, mode, options)
    },
    rulebooks: [...served.values()].map(({ rulebook }) => rulebook),
    migrate: Object.fromEntries(
      [...served.values()].flatMap(({ rulebook, migrate }) => (migrate ? [[rulebook.name, migrate]] : [])),
    ),
    ...(options.rulebook !== undefined && { renew: () => loadMode(undefined, options.rulebook) }),
    page: pageFolder,
    onFault(fault) {
      const known = faults.all().length
      faults.add(fault)
      // Each kind is printed once, as soon as it happens, so that whoever tries a mode out does not miss it.
      for (const line of faultLines(faults.all().slice(known))) console.error(line)
    },
    joined(hosted) {
      const mode = served.get(hosted.match.rulebook)
      if (options.bots && mode !== undefined) fillWithBots(hosted, mode)
    },
  }).catch((error: unknown) => {
    throw error instanceof VenueError ? new CommandError(error.message) : error
  })
  if (venue === undefined) return exit.finding
  if (worker !== undefined) process.once('disconnect', () => stop.abort('SIGTERM'))
  else for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => stop.abort(signal))
  const goesOn = venue.matches.length > 0
  const known = (await circuit?.known()) ?? []
  // Each worker begins its share; a venue of a circuit, what no other has begun.
  const own = [...served.values()].filter(
    ({ rulebook }, at) =>
      (worker === undefined || at % worker.count === worker.number - 1) && !known.includes(rulebook.name),
  )
  const hosting = own.map((mode) => {
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
  if (circuit !== undefined) announceCircuit(venue.url, circuit)
  else if (worker === undefined) announce(hosting, venue, options, goesOn)
  await new Promise((stopped) => stop.signal.addEventListener('abort', stopped))
  const what = hosting.length === 1 ? 'The match is' : 'The matches are'
  if (worker !== undefined) return exit.done // runWorker ends the venue
  if (circuit !== undefined) {
    await venue.suspend()
    print('The matches go on at other venues, or when one comes back.')
  } else if (stop.signal.reason === 'SIGTERM') {
    await venue.suspend()
    print(`${what} suspended. Serve again with the same records to go on.`)
  } else {
    await venue.close()
    print(`${what} closed, with whole records.`)
  }
  return exit.done
}

/** The modes that are asked for, by name. */
async function loadAll(
  name: string | undefined,
  options: ServeOptions,
): Promise<ReadonlyMap<string, LoadedMode>> {
  const all = name === undefined && options.rulebook === undefined ? Object.keys(modesByName) : [name]
  const served = new Map<string, LoadedMode>()
  for (const each of all) {
    const mode = await loadMode(each, options.rulebook)
    mode.rulebook.planWith(expansionsOf(mode.rulebook, options.with)) // throws before anything is opened
    served.set(mode.rulebook.name, mode)
  }
  return served
}

/** What the options say of the venue. @throws CommandError for a file that cannot be read */
function given(options: ServeOptions): VenueOptions {
  const { host, port, records, keys, tcp, cert, certKey, keepFor, circuit } = options
  if ((cert === undefined) !== (certKey === undefined))
    throw new CommandError('TLS needs a certificate and its key. Give both --cert and --cert-key.')
  return {
    port,
    ...(host !== undefined && { host }),
    // In a circuit, records become files when their matches have ended.
    ...(circuit === undefined && {
      records: { folder: records, ...(keepFor !== undefined && { keepFor: keepFor * DAY }) },
    }),
    // Where anybody may take any seat, anybody may look through any, and be the referee.
    allowViewAsAnySeat: keys === undefined,
    allowDriving: keys === undefined,
    ...(keys !== undefined && { admissions: { keys: keysIn(keys) } }),
    ...(tcp !== undefined && { tcp }),
    ...(cert !== undefined && certKey !== undefined && { tls: { cert: textOf(cert), key: textOf(certKey) } }),
    log: logOf(options),
  }
}

const logOf = ({ log }: ServeOptions) => (log ? pino(pino.destination({ dest: 2, sync: true })) : plainLog())

const DAY = 86_400_000

function keysIn(file: string): NonNullable<VenueOptions['admissions']>['keys'] {
  const wrong = new CommandError(
    `'${file}' is not a list of keys. Give a JSON list of JWKs, each with its 'kid' and its 'alg'.`,
  )
  const text = textOf(file)
  try {
    const read = JSON.parse(text)
    const keys = Array.isArray(read) ? read : read.keys
    if (keys.length > 0 && keys.every(({ kid, alg }: JsonKey) => kid && alg)) return keys
  } catch {
    throw wrong
  }
  throw wrong
}
interface JsonKey {
  readonly kid?: string
  readonly alg?: string
}

function textOf(file: string): string {
  try {
    return readFileSync(file, 'utf8')
  } catch (error) {
    throw new CommandError(`'${file}' cannot be read: ${error instanceof Error ? error.message : error}`)
  }
}

interface Hosting {
  readonly hosted: HostedMatch
  readonly mode: LoadedMode
}

function announce(
  all: readonly Hosting[],
  { url, tcpPort }: Venue,
  { bots, keys }: ServeOptions,
  goesOn: boolean,
): void {
  const filled = bots ? '   bots fill the empty ones' : ''
  print(
    all
      .map(({ mode: { title, rulebook } }) => {
        const { min, max } = rulebook.plan.seatLimits
        return `${strong(title)}   ${min} to ${max} seats${filled}`
      })
      .join('\n'),
    pairs([
      ['page', url],
      ...(keys === undefined ? [['desk', `${url}?desk`] as const] : []),
      ...(tcpPort === undefined ? [] : [['lines', `tcp port ${tcpPort}`] as const]),
      ['record', all.map(({ hosted }) => hosted.record ?? '').join('\n         ')],
      ...(goesOn ? [['goes on', 'from where the records end'] as const] : []),
      ['next', 'open the page in two windows; Ctrl-C ends the match and its record'],
    ]),
  )
}

/** Has the crowd of a mode drive its bots, and report the facts of its simulation. Both belong to the game, not to the venue. */
function play(hosted: HostedMatch, mode: LoadedMode, { seed = 'fair-1', bots }: ServeOptions): void {
  const crowd = mode.demo.crowd?.(seed) ?? randomCrowd(seed)
  hosted.every(crowd.every, () => {
    if (hosted.match.allSeats.length === 0) return
    hosted.run((match) => beatOnce(match, crowd, (seat) => bots && match.state.roster.seats.of(seat).bot))
    if (bots) fillWithBots(hosted, mode)
  })
}
