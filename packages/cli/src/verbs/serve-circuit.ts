import { hostname } from 'node:os'
import type { VenueInCircuit } from '@zinc-referee/circuit'
import { type Log, VenueError } from '@zinc-referee/venue'
import { Option } from 'commander'
import { CommandError } from '../errors.ts'
import { pairs, print } from '../print/output.ts'
import { whole } from './options.ts'

/** The options of `serve` that are about a circuit. */
export interface CircuitOptions {
  readonly circuit?: string
  readonly venue?: string
  readonly address?: string
  readonly passOn?: boolean
  readonly replicas?: '1' | '3' | '5'
  readonly credentials?: string
  readonly fullAt?: number
}

/** Other options of `serve` that a circuit has to do with. */
interface Hosted {
  readonly host?: string
  readonly port: number
  readonly records: string
  readonly workers?: number
}
/** Addresses by which nobody can be reached. */
const ANYWHERE: ReadonlySet<string> = new Set(['0.0.0.0', '::'])

export const circuitOptions: readonly Option[] = [
  new Option('--circuit <servers>', 'addresses of NATS servers, with commas: many venues act as one'),
  new Option('--venue <name>', 'name of this venue in the circuit (default: host and port)'),
  new Option('--address <url>', "this venue's socket for clients, as wss://... (default: where it listens)"),
  new Option('--pass-on', 'keep clients connected here, and pass on what is for other venues'),
  new Option('--replicas <number>', 'servers that keep each message (default: 3)').choices(['1', '3', '5']),
  new Option('--credentials <file>', 'credentials file for the NATS servers'),
  new Option(
    '--full-at <bytes>',
    'no new matches from so much on each server on; from 1.25 times as much on all stand still (default: no limit)',
  ).argParser(whole),
]

/** Joins the circuit that the options name. @throws CommandError with what keeps it from that */
export async function joinCircuit(
  given: CircuitOptions & Hosted,
  modes: readonly string[],
  log: Log,
): Promise<VenueInCircuit | undefined> {
  const {
    circuit: servers,
    venue = `${hostname()}-${given.port}`,
    address,
    credentials,
    replicas,
    fullAt,
  } = given
  if (servers === undefined) {
    const alone = circuitOptions.find((option) => option.attributeName() in given)
    if (alone !== undefined) throw new CommandError(`${alone.long} is about a circuit. Give --circuit, too.`)
    return undefined
  }
  if (given.workers !== undefined)
    throw new CommandError('A circuit has venues, not workers. Start several venues, or leave out --workers.')
  if (!/^[\w-]+$/.test(venue))
    throw new CommandError(`'${venue}' cannot name a venue. Use letters, digits, - and _ in --venue.`)
  if (address === undefined && ANYWHERE.has(given.host ?? ''))
    throw new CommandError(
      `Clients of other venues cannot be sent to ${given.host}. Give --address, as ws://HOST:PORT/socket.`,
    )
  const { openCircuit } = await import('@zinc-referee/circuit')
  try {
    return await openCircuit({
      servers: servers.split(',').map((server) => server.trim()),
      venue,
      modes,
      records: given.records,
      passesOn: given.passOn ?? false,
      log,
      onReplaced(error) {
        console.error(error.message)
        process.kill(process.pid, 'SIGTERM')
      },
      ...(address !== undefined && { address }),
      ...(credentials !== undefined && { credentials }),
      ...(fullAt !== undefined && { fullAt }),
      ...(replicas !== undefined && { replicas: Number(replicas) as 1 | 3 | 5 }),
    })
  } catch (error) {
    throw error instanceof VenueError ? new CommandError(error.message) : error
  }
}

/** Says where a venue of a circuit is. */
export function announceCircuit(url: string, { state }: VenueInCircuit): void {
  const others = state.venues.map(({ name }) => name).filter((name) => name !== state.venue)
  print(
    pairs([
      ['venue', state.venue],
      ['page', url],
      ['others', others.length === 0 ? 'none yet' : others.join(', ')],
      ['next', 'open the page; Ctrl-C gives its matches to the other venues'],
    ]),
  )
}
