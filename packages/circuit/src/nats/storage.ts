import {
  DiscardPolicy,
  type JetStreamManager,
  jetstream,
  jetstreamManager,
  type StreamConfig,
} from '@nats-io/jetstream'
import { Kvm } from '@nats-io/kv'
import { Objm } from '@nats-io/obj'
import { type NatsConnection, nanos } from '@nats-io/transport-node'
import { circuitError } from '../errors.ts'
import type { Storage } from '../protocol/options.ts'
import type { Bucket } from '../protocol/ports.ts'
import { natsBucket } from './bucket.ts'
import { ANSWER } from './connect.ts'
import { natsShelf } from './shelf.ts'
import { natsStream } from './stream.ts'
import { NoAnswer, within } from './within.ts'

/** How the streams of a circuit are made, where they are not there yet. */
export interface StreamOptions {
  /** The name of the circuit: several may be on the same servers. Default: `zinc`. */
  readonly name: string
  /** On how many servers each message is kept: 1, 3 or 5. Default: 3. */
  readonly replicas: number
  /** How long the servers may take to agree on a leader, in ms. Default: 30,000. */
  readonly patience: number
}

/** For this long the servers know which ids have been published, in ms. */
const KNOWN_FOR = 120_000
/** How long one try may take until all is open, and how long to wait before the next, in ms. */
const [TRY, AGAIN] = [15_000, 500]

/**
 * Opens the stream and the buckets of a circuit, and makes those that are missing.
 * @throws ZR_CIRCUIT_NO_JETSTREAM
 */
export async function openStorage(
  connection: NatsConnection,
  { name, replicas, patience }: StreamOptions,
): Promise<Storage & { readonly searches: Bucket; readonly used: () => Promise<number> }> {
  return whenReady(connection, patience, async () => {
    const client = jetstream(connection)
    const manager = await jetstreamManager(connection, { checkAPI: false })
    const stream = `${name}-matches`
    await ensureStream(manager, {
      name: stream,
      subjects: [`${name}.match.>`],
      num_replicas: replicas,
      // Without limits: what they refuse is skipped by each server for itself, and NATS 2.9 then loses messages.
      discard: DiscardPolicy.New,
      duplicate_window: nanos(KNOWN_FOR),
    })
    const kvm = new Kvm(client)
    // Without direct answers: those of a server that is not the leader may be old.
    const bucket = async (part: string) =>
      natsBucket(await kvm.create(`${name}-${part}`, { replicas, history: 1, allow_direct: false }))
    const shelf = await new Objm(client).create(`${name}-snapshots`, { replicas })
    return {
      stream: natsStream(stream, (subject) => `${name}.${subject}`, { client, manager }),
      shelf: natsShelf(shelf),
      members: await bucket('members'),
      places: await bucket('places'),
      searches: await bucket('searches'),
      /** How many bytes each server keeps, of this circuit and of all else in its account. */
      used: () => within(ANSWER, manager.getAccountInfo()).then(({ storage }) => storage / replicas),
    }
  })
}

async function ensureStream(
  manager: JetStreamManager,
  config: Partial<StreamConfig> & { readonly name: string },
): Promise<void> {
  const isThere = await manager.streams.info(config.name).then(
    () => true,
    () => false,
  )
  if (!isThere) await manager.streams.add(config)
}

/** Tries until the servers have a leader. */
async function whenReady<R>(connection: NatsConnection, patience: number, act: () => Promise<R>): Promise<R> {
  const until = performance.now() + patience
  for (;;)
    try {
      return await within(TRY, act())
    } catch (error) {
      if (performance.now() > until) {
        const why =
          error instanceof NoAnswer ? 'no answer' : error instanceof Error ? error.message : String(error)
        throw circuitError('ZR_CIRCUIT_NO_JETSTREAM', { servers: connection.getServer(), why }, error)
      }
      await new Promise((soon) => setTimeout(soon, AGAIN))
    }
}
