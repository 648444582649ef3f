import { Connection, type ConnectionContext } from './connection.ts'
import { TokenBucket } from './token-bucket.ts'
import type { Transport } from './transport.ts'

/** How many addresses the venue remembers the joins of. */
const ADDRESSES = 10_000

/** All connections of a venue, whatever carries them, and how many each address has. */
export class Connections {
  readonly context: ConnectionContext
  private readonly all: Map<Connection, string> = new Map()
  private readonly counts: Map<string, number> = new Map()
  private readonly pulse: NodeJS.Timeout

  constructor(context: Omit<ConnectionContext, 'joins'>) {
    this.context = { ...context, joins: bucketsByAddress(context) }
    this.pulse = setInterval(() => {
      for (const each of this.all.keys()) each.checkPulse()
    }, context.limits.heartbeat).unref()
  }

  /** Number of open connections. */
  get size(): number {
    return this.all.size
  }

  /** True if an address may have another connection. */
  hasRoomFor(address: string): boolean {
    return (this.counts.get(address) ?? 0) < this.context.limits.connectionsPerAddress
  }

  add(transport: Transport): Connection {
    const connection = new Connection(transport, this.context)
    this.all.set(connection, transport.address)
    this.counts.set(transport.address, (this.counts.get(transport.address) ?? 0) + 1)
    return connection
  }

  remove(connection: Connection): void {
    const address = this.all.get(connection)
    if (address === undefined) return
    this.all.delete(connection)
    const count = (this.counts.get(address) ?? 1) - 1
    if (count > 0) this.counts.set(address, count)
    else this.counts.delete(address)
    connection.closed()
  }

  /** Ends all of them. Who does not end its side within a heartbeat is cut off. */
  close(): void {
    clearInterval(this.pulse)
    for (const each of [...this.all.keys()]) each.close(1001, 'the venue closes')
    const cutOff = (): void => {
      for (const each of [...this.all.keys()]) each.terminate()
    }
    setTimeout(cutOff, this.context.limits.heartbeat).unref()
  }
}

/** The oldest addresses are forgotten: by then their buckets are full again. */
function bucketsByAddress({
  limits,
  now,
}: Omit<ConnectionContext, 'joins'>): (address: string) => TokenBucket {
  const buckets = new Map<string, TokenBucket>()
  return (address) => {
    const bucket = buckets.get(address) ?? new TokenBucket(limits.joins, now())
    buckets.delete(address)
    buckets.set(address, bucket)
    for (const oldest of buckets.size > ADDRESSES ? buckets.keys() : []) {
      buckets.delete(oldest)
      break
    }
    return bucket
  }
}
