import { type ChildProcess, fork } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { jetstreamManager } from '@nats-io/jetstream'
// @ts-expect-error a script without types
import { startNats } from '../../../../scripts/nats-servers.mjs'
import { connectTo } from '../../src/nats/connect.ts'
import { openStorage } from '../../src/nats/storage.ts'
import type { Pace } from '../../src/protocol/options.ts'
import { CutLine } from './cut-line.ts'

const entry = fileURLToPath(new URL('venue-process.mjs', import.meta.url))
export const NAMES = ['north', 'south', 'west'] as const

interface VenueProcess {
  readonly name: string
  readonly lines: readonly CutLine[]
  child: ChildProcess
  port: number
}

/** What a venue says of all of them. */
async function reportOf(port: number | undefined): Promise<any> {
  const answer = await fetch(`http://127.0.0.1:${port}/circuit`, { signal: AbortSignal.timeout(5000) })
  return answer.json()
}

/** Three NATS servers with a disk of so many MB, and three venues, each with lines of its own to the servers. */
export async function startCluster(pace: Partial<Pace>, disk: number) {
  const nats = await startNats(3, '', disk)
  const folder = mkdtempSync(join(tmpdir(), 'zinc-circuit-'))
  const venues: VenueProcess[] = []
  // As the operator's page has it: half of what a server can store.
  const fullAt = (disk * 2 ** 20) / 2
  const begin = async (name: string, lines: readonly CutLine[], given = 0) => {
    const urls = await Promise.all(lines.map(({ url }) => url))
    const child = fork(
      entry,
      [name, urls.join(','), join(folder, name), JSON.stringify(pace), String(given), String(fullAt)],
      {
        execArgv: [],
      },
    )
    const [says] = await Promise.race([
      once(child, 'message'),
      once(child, 'exit').then(([code]) => [{ code }]),
    ])
    if (says.port === undefined) throw new Error(`${name} has ended with ${says.code}`)
    return { child, port: says.port as number }
  }
  for (const name of NAMES) {
    const lines = nats.urls.map((url: string) => new CutLine(url))
    venues.push({ name, lines, ...(await begin(name, lines)) })
  }
  const connection = await connectTo({ servers: nats.urls }, 'watcher')
  const storage = await openStorage(connection, { name: 'zinc', replicas: 3, patience: 30_000 })
  return {
    nats,
    venues,
    storage,
    connection,
    folder,
    disk,
    async kill(venue: VenueProcess, signal: NodeJS.Signals = 'SIGKILL') {
      if (venue.child.exitCode !== null || venue.child.signalCode !== null) return
      venue.child.kill(signal)
      await once(venue.child, 'exit')
    },
    /** True if all venues know that there is no room: they write nothing any more. */
    async standsStill(): Promise<boolean> {
      const { venues: known } = await reportOf(venues[0]?.port)
      return known.length === NAMES.length && known.every(({ room }: any) => room === 'brimful')
    },
    /** How servers and venues stand, for whoever looks for what went wrong. */
    async standing(): Promise<unknown> {
      const manager = await jetstreamManager(connection, { checkAPI: false })
      const streams = ['zinc-matches', 'KV_zinc-places', 'KV_zinc-members'].map(async (name) => {
        const info = await manager.streams.info(name).catch(String)
        return typeof info === 'string' ? [name, info] : [name, info.cluster, info.state]
      })
      const reports = venues.map(async ({ name, port }) => {
        const report = await reportOf(port).catch(String)
        return [
          name,
          report.venues?.map(({ venue, matches, lately }: any) => [
            venue,
            matches.length,
            matches.filter(({ standsStill }: any) => standsStill).length,
            lately.slice(0, 2),
          ]) ?? report,
        ]
      })
      return [await Promise.all(streams), await Promise.all(reports)]
    },
    async restart(venue: VenueProcess) {
      Object.assign(venue, await begin(venue.name, venue.lines, venue.port))
    },
    async stop() {
      for (const { child, lines } of venues) {
        child.kill('SIGKILL')
        for (const line of lines) line.close()
      }
      await connection.close()
      await nats.stop()
      rmSync(folder, { recursive: true, force: true })
    },
  }
}
export type Cluster = Awaited<ReturnType<typeof startCluster>>
