// NATS servers with JetStream on this machine: loopback ports, folders that are gone afterwards.
import { execFileSync, spawn } from 'node:child_process'
import { once } from 'node:events'
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { connect, createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

/** Installs Debian's nats-server if there is none. Returns why that is not possible; undefined if there is one. */
export function ensureNats() {
  if (isThere()) return undefined
  if (process.getuid?.() !== 0)
    return 'nats-server is missing. Install it (Debian: apt-get install nats-server), or run this as root.'
  try {
    console.error('setting up: nats-server, from Debian’s packages')
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
    execFileSync('apt-get', ['update', '-q'], { env, stdio: 'ignore' })
    execFileSync('apt-get', ['install', '-qy', '--no-install-recommends', 'nats-server'], {
      env,
      stdio: 'ignore',
    })
  } catch (error) {
    return `nats-server could not be installed: ${error.message}`
  }
  return isThere() ? undefined : 'nats-server was installed, and does not run.'
}

function isThere() {
  try {
    execFileSync('nats-server', ['--version'], { stdio: 'ignore' })
    return true
  } catch {
    return false
  }
}

/** All at once: a port that is free again may be given a second time. */
async function freePorts(count) {
  const servers = Array.from({ length: count }, () => createServer().listen(0, '127.0.0.1'))
  await Promise.all(servers.map((server) => once(server, 'listening')))
  const ports = servers.map((server) => server.address().port)
  await Promise.all(servers.map((server) => new Promise((closed) => server.close(closed))))
  return ports
}

/** How long a server may take until it listens, in ms. */
const PATIENCE = 120_000
const wordsIn = (log) => (existsSync(log) ? readFileSync(log, 'utf8').split('\n').slice(-25).join('\n') : '')

/** Resolves with true when a server listens on its port, with false if it has ended: somebody else has the port. */
async function listens({ process: child, port, log }) {
  const until = performance.now() + PATIENCE
  while (child.exitCode === null && child.signalCode === null) {
    if (performance.now() > until)
      throw new Error(`nats-server does not listen on its port ${port}\n${wordsIn(log)}`)
    const socket = connect(port, '127.0.0.1')
    const isThere = await new Promise((done) => {
      socket.once('connect', () => done(true))
      socket.once('error', () => done(false))
    })
    socket.destroy()
    if (isThere) return true
    await new Promise((soon) => setTimeout(soon, 20))
  }
  return false
}

/**
 * Starts servers that form a cluster, or one alone. Returns their addresses, and what kills one, starts it again, and stops all.
 * `more`: further lines of each server's configuration. `disk`: how many MB each stores at most. Default: no limit.
 */
export async function startNats(count = 3, more = '', disk = undefined) {
  const missing = ensureNats()
  if (missing !== undefined) throw new Error(missing)
  for (let tries = 0; tries < 5; tries++) {
    const nats = await startOnFreePorts(count, more, disk)
    if (nats !== undefined) return nats
  }
  throw new Error('nats-server ends at once, five times. Run it by hand to see why: nats-server -js')
}

/** Resolves with nothing if one of the ports was taken by somebody else meanwhile. */
async function startOnFreePorts(count, more, disk) {
  const folder = mkdtempSync(join(tmpdir(), 'zinc-nats-'))
  const ports = await freePorts(2 * count)
  const nodes = Array.from({ length: count }, (_, at) => ({
    name: `n${at + 1}`,
    port: ports[at],
    route: ports[count + at],
    log: join(folder, `n${at + 1}.log`),
    process: undefined,
  }))
  const routes = nodes.map(({ route }) => `nats-route://127.0.0.1:${route}`).join(', ')
  /** A server reads it when it starts. */
  const configure = (most) => {
    const store = most === undefined ? '' : `, max_file_store: ${most}MB`
    for (const { name, port, route, log } of nodes)
      writeFileSync(
        join(folder, `${name}.conf`),
        `server_name: ${name}
listen: 127.0.0.1:${port}
log_file: "${log}"
jetstream { store_dir: "${join(folder, name)}"${store} }
${count > 1 ? `cluster { name: zinc, no_advertise: true, listen: 127.0.0.1:${route}, routes: [${routes}] }` : ''}
${more}
`,
      )
  }
  configure(disk)
  const start = (at) => {
    const node = nodes[at]
    node.process = spawn('nats-server', ['-c', join(folder, `${node.name}.conf`)], { stdio: 'ignore' })
  }
  const kill = async (at, signal = 'SIGKILL') => {
    const { process: child } = nodes[at]
    if (child.exitCode !== null || child.signalCode !== null) return
    child.kill(signal)
    await once(child, 'exit')
  }
  for (let at = 0; at < count; at++) start(at)
  const stop = async () => {
    await Promise.all(nodes.map((_, at) => kill(at)))
    rmSync(folder, { recursive: true, force: true })
  }
  const are = await Promise.all(nodes.map(listens))
  if (are.includes(false)) {
    await stop()
    return undefined
  }
  return {
    urls: nodes.map(({ port }) => `nats://127.0.0.1:${port}`),
    names: nodes.map(({ name }) => name),
    folder,
    get pids() {
      return nodes.map(({ process: child }) => child.pid)
    },
    start,
    kill,
    /** Gives each server a disk of so many MB when it starts again. */
    configure,
    /** What the servers have logged last, for whoever looks for what went wrong. */
    lastWords: () => nodes.map(({ name, log }) => `${name}:\n${wordsIn(log)}`).join('\n'),
    signal: (at, signal) => nodes[at].process.kill(signal),
    stop,
  }
}
