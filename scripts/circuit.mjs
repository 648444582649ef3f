// npm run circuit: three NATS servers and three venues on this machine, with the fair on them, until Ctrl-C.
import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { stripVTControlCharacters } from 'node:util'
import { ensureNats, startNats } from './nats-servers.mjs'

const NAMES = ['north', 'south', 'west']
const command = fileURLToPath(new URL('../packages/cli/bin/zinc-referee.js', import.meta.url))

const missing = ensureNats()
if (missing !== undefined) {
  console.error(missing)
  process.exit(2)
}
const folder = mkdtempSync(join(tmpdir(), 'zinc-circuit-'))
const nats = await startNats()
console.log(
  'Three NATS servers run. The venues start; the servers agree on a leader first, which takes some seconds.',
)
const venues = new Map()
let isEnding = false

/** Starts a venue, and prints what it says under its name. Resolves with its page. */
const start = (name, port) =>
  new Promise((ready, failed) => {
    const child = spawn(
      process.execPath,
      [
        command,
        'serve',
        '--circuit',
        nats.urls.join(','),
        '--venue',
        name,
        '--port',
        port,
        '--records',
        join(folder, name),
      ],
      { stdio: ['ignore', 'pipe', 'pipe'] },
    )
    venues.set(name, child)
    let said = ''
    child.stdout.on('data', (data) => {
      said += data
      // It is in colour where FORCE_COLOR or CI is set.
      const [, page] = /page\s+(http\S+)\n/.exec(stripVTControlCharacters(said)) ?? []
      if (page !== undefined) ready(page)
    })
    child.stderr.on('data', (data) => {
      for (const line of String(data).trimEnd().split('\n')) console.error(`${name}: ${line}`)
    })
    child.once('exit', (code, signal) => {
      failed(
        new Error(
          `${name} has ended with ${signal ?? code}. Another port is chosen with: npm run circuit -- 5601`,
        ),
      )
      if (isEnding) return
      console.log(
        code === 0
          ? `${name} has given its matches to the others, and has ended.`
          : `${name} is gone (${signal ?? code}). Its matches go on at the others in some seconds.`,
      )
      console.log(`Bring it back with: ${again(name, port)}`)
    })
  })
const again = (name, port) =>
  `npx zinc-referee serve --circuit ${nats.urls.join(',')} --venue ${name} --port ${port} --records ${join(folder, name)}`

/** How long a step of the start may take, in ms. */
const PATIENCE = 120_000
const inTime = (what, step) => {
  let timer
  const tooLate = new Promise((_, fail) => {
    timer = setTimeout(
      () => fail(new Error(`${what} for ${PATIENCE / 1000} s\n${nats.lastWords()}`)),
      PATIENCE,
    )
  })
  return Promise.race([step, tooLate]).finally(() => clearTimeout(timer))
}
/** They know one another: a client hears of the others from the venue that it is at. */
async function knowsAll(page) {
  while ((await (await fetch(`${page}circuit`)).json()).venues.length < NAMES.length)
    await new Promise((soon) => setTimeout(soon, 100))
}

const first = Number(process.argv[2] ?? 4601)
const pages = []
try {
  for (const [at, name] of NAMES.entries()) {
    pages.push(await inTime(`${name} has not been ready`, start(name, first === 0 ? 0 : first + at)))
    console.log(`  ${name} is ready.`)
  }
  for (const [at, page] of pages.entries())
    await inTime(`${NAMES[at]} has not known the other venues`, knowsAll(page))
} catch (error) {
  console.error(error.message)
  await end()
  process.exit(1)
}
console.log(`
Three NATS servers and three venues run as one circuit.

${NAMES.map((name, at) => `  ${name.padEnd(7)}${pages[at]}   process ${venues.get(name).pid}`).join('\n')}
${nats.names.map((name, at) => `  ${name.padEnd(7)}${nats.urls[at]}   process ${nats.pids[at]}`).join('\n')}

Open two of the pages, and play one match from both. Then see it survive:

  kill -9 ${venues.get('north').pid}   a venue: its matches go on at the others within some seconds
  kill -9 ${nats.pids[0]}   a NATS server: nothing happens, or all stand still until a new leader is found
  kill -15 ${venues.get('south').pid}   a venue moves its matches before it ends

Ctrl-C ends all.`)
for (const signal of ['SIGINT', 'SIGTERM'])
  process.once(signal, async () => {
    await end()
    process.exit(0)
  })

async function end() {
  isEnding = true
  await Promise.all(
    [...venues.values()].map((child) => {
      if (child.exitCode !== null || child.signalCode !== null) return undefined
      child.kill('SIGKILL')
      return new Promise((ended) => child.once('exit', ended))
    }),
  )
  await nats.stop()
  rmSync(folder, { recursive: true, force: true })
}
