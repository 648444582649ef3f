// Packs each published package, checks what it promises to those who import it, and walks the newcomer's path of the
// README with nothing but the packed packages: install, compile, play and replay the README's own mode.
import { execFile, spawn } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { promisify } from 'node:util'
import { publint } from 'publint'
import { formatMessage } from 'publint/utils'

const root = fileURLToPath(new URL('..', import.meta.url))
const folders = ['packages/core', 'packages/venue', 'packages/circuit', 'examples', 'packages/cli']
const scratch = mkdtempSync(join(tmpdir(), 'zinc-packages-'))
const start = promisify(execFile)
/** Resolves with what a command prints. */
const run = (command, args, cwd) => start(command, args, { cwd }).then(({ stdout }) => stdout)
const wrong = []

/** Packs a package. */
async function pack(folder) {
  const { messages, pkg } = await publint({ pkgDir: join(root, folder), strict: true })
  for (const message of messages) wrong.push(`${folder}: ${formatMessage(message, pkg)}`)
  const asked = ['pack', '--json', '--ignore-scripts', '--loglevel=error', '--pack-destination', scratch]
  const [packed] = JSON.parse(await run('npm', asked, join(root, folder)))
  const stray = packed.files
    .map(({ path }) => path)
    .filter((path) => /tsbuildinfo|\.test\.|node_modules/.test(path))
  if (stray.length > 0) wrong.push(`${folder}: packs ${stray.join(', ')}`)
  const { name, version, files, size, filename } = packed
  console.log(`${name} ${version}: ${files.length} files, ${Math.round(size / 1024)} kB packed`)
  return join(scratch, filename)
}

/** Looks at the types that a packed package gives to those who import it. */
async function types(packed) {
  const attw = join(root, 'node_modules/.bin/attw')
  await run(attw, [packed, '--profile', 'esm-only', '--no-color', '--no-emoji'], root).catch(({ stdout }) =>
    wrong.push(`${packed}: types\n${stdout}`),
  )
}

const home = join(scratch, 'newcomer')

/** Walks the path of the README with the packed packages. */
async function newcomer(packed) {
  mkdirSync(home)
  const readme = readFileSync(join(root, 'README.md'), 'utf8')
  const mode = /```ts\n(\/\/ duck-pond\.ts\n[\s\S]*?)```/.exec(readme)?.[1]
  if (mode === undefined)
    throw new Error('README.md has no mode: a ts block that begins with // duck-pond.ts')
  writeFileSync(join(home, 'duck-pond.ts'), mode)
  writeFileSync(join(home, 'package.json'), '{ "private": true, "type": "module" }\n')
  const quietly = ['--prefer-offline', '--no-audit', '--no-fund', '--ignore-scripts', '--loglevel=error']
  await run('npm', ['install', ...quietly, ...packed], home)
  const flags = '--noEmit --strict --module nodenext --target es2022 --lib es2023 --types'.split(' ')
  await run(join(root, 'node_modules/.bin/tsc'), [...flags, '', 'duck-pond.ts'], home)
  const shown = await run('npx', ['zinc-referee', 'demo', '--rulebook', 'duck-pond.ts'], home)
  for (const wanted of ['duck-pond', 'verdict', 'the same rulings and hashes', 'hidden'])
    if (!shown.includes(wanted)) wrong.push(`the newcomer's demo does not show '${wanted}':\n${shown}`)
  const record = 'records/duck-pond-fair-1.jsonl'
  await run('npx', ['zinc-referee', 'replay', record, '--rulebook', 'duck-pond.ts'], home)
  await served()
  console.log(
    'newcomer: the README’s mode installs, compiles, plays, replays and is served with the packed packages alone',
  )
}

/** The page comes from the packed packages, too. */
async function served() {
  const server = spawn('npx', ['zinc-referee', 'serve', '--rulebook', 'duck-pond.ts', '--port', '0'], {
    cwd: home,
    detached: true, // a group of its own: npx does not pass on that it is ended
  })
  try {
    let said = ''
    for await (const data of server.stdout) {
      said += String(data)
      const url = /http:\S+/.exec(said)?.[0]
      if (url === undefined) continue
      if (!(await (await fetch(url)).text()).includes('Fenwick Fair'))
        wrong.push('the newcomer’s page is not served')
      return
    }
    wrong.push(`the newcomer’s venue does not say where its page is: ${said}`)
  } finally {
    process.kill(-server.pid)
  }
}

const packed = await Promise.all(folders.map(pack))
// What waits for the network, and what looks at types.
await Promise.all([newcomer(packed), ...packed.map(types)])
rmSync(scratch, { recursive: true })
for (const each of wrong) console.error(each)
process.exit(wrong.length === 0 ? 0 : 1)
