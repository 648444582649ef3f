import type { CircuitOptions, VenueInCircuit } from './circuit-options.ts'
import { Link } from './link.ts'
import { Asking } from './nats/asking.ts'
import { connectTo } from './nats/connect.ts'
import { openStorage } from './nats/storage.ts'

/**
 * Makes a venue one of many that act as one, over NATS with JetStream. Its matches are written into a replicated stream before
 * anything of them leaves, and go on at another venue when this one is lost.
 * @throws ZR_CIRCUIT_UNREACHABLE, ZR_CIRCUIT_NOT_ALLOWED, ZR_CIRCUIT_NO_JETSTREAM
 */
export async function openCircuit(options: CircuitOptions): Promise<VenueInCircuit> {
  const { circuit: name = 'zinc', replicas = 3, patience = 30_000 } = options
  const connection = await connectTo(options, options.venue)
  try {
    const storage = await openStorage(connection, { name, replicas, patience })
    return new Link(options, connection, storage, new Asking(connection, name))
  } catch (error) {
    await connection.close()
    throw error
  }
}
