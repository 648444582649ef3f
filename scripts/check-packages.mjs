// Packs each published package, checks what it promises to those who import it, and walks the newcomer's path of the
// README with nothing but the packed packages: install, compile, play and replay the README's own mode.
import { execFileSync, spawn } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { publint } from 'publint'
import { formatMessage } from 'publint/utils'

const root = fileURLToPath(new URL('..', import.meta.url))
const folders = ['packages/core', 'packages/venue', 'packages/circuit', 'examples', 'packages/cli']
const scratch = mkdtempSync(join(tmpdir(), 'zinc-packages-'))
const run = (command, args, cwd) =>
  execFileSync(command, args, { cwd, encoding: 'utf8', stdio: ['ignore', 'pipe', 'inherit'] })
const wrong = []

for (const folder of folders) {
  const { messages, pkg } = await publint({ pkgDir: join(root, folder), strict: true })
  for (const message of messages) wrong.push(`${folder}: ${formatMessage(message, pkg)}`)
  const packed = JSON.parse(
    run(
      'npm',
      ['pack', '--json', '--ignore-scripts', '--loglevel=error', '--pack-destination', scratch],
      join(root, folder),
    ),
  )[0]
  const stray = packed.files
    .map(({ path }) => path)
    .filter((path) => /tsbuildinfo|\.test\.|node_modules/.test(path))
  if (stray.length > 0) wrong.push(`${folder}: packs ${stray.join(', ')}`)
  try {
    const attw = join(root, 'node_modules/.bin/attw')
    run(attw, [join(scratch, packed.filename), '--profile', 'esm-only', '--no-color', '--no-emoji'], root)
  } catch (error) {
    wrong.push(`${folder}: types\n${error.stdout}`)
  }
  console.log(
    `${packed.name} ${packed.version}: ${packed.files.length} files, ${Math.round(packed.size / 1024)} kB packed`,
  )
}

const home = join(scratch, 'newcomer')
mkdirSync(home)
const mode = /```ts\n(\/\/ duck-pond\.ts\n[\s\S]*?)```/.exec(
  readFileSync(join(root, 'README.md'), 'utf8'),
)?.[1]
if (mode === undefined) throw new Error('README.md has no mode: a ts block that begins with // duck-pond.ts')
writeFileSync(join(home, 'duck-pond.ts'), mode)
writeFileSync(join(home, 'package.json'), '{ "private": true, "type": "module" }\n')
run(
  'npm',
  [
    'install',
    '--prefer-offline',
    '--no-audit',
    '--no-fund',
    '--ignore-scripts',
    '--loglevel=error',
    ...folders.map((folder) => tarball(folder)),
  ],
  home,
)
run(
  join(root, 'node_modules/.bin/tsc'),
  [
    '--noEmit',
    '--strict',
    '--module',
    'nodenext',
    '--target',
    'es2022',
    '--lib',
    'es2023',
    '--types',
    '',
    'duck-pond.ts',
  ],
  home,
)
const shown = run('npx', ['zinc-referee', 'demo', '--rulebook', 'duck-pond.ts'], home)
for (const wanted of ['duck-pond', 'verdict', 'the same rulings and hashes', 'hidden'])
  if (!shown.includes(wanted)) wrong.push(`the newcomer's demo does not show '${wanted}':\n${shown}`)
run('npx', ['zinc-referee', 'replay', 'records/duck-pond-fair-1.jsonl', '--rulebook', 'duck-pond.ts'], home)
await served()
console.log(
  'newcomer: the README’s mode installs, compiles, plays, replays and is served with the packed packages alone',
)
rmSync(scratch, { recursive: true })

/** The plain page comes from the packed packages too. */
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

function tarball(folder) {
  const { name, version } = JSON.parse(readFileSync(join(root, folder, 'package.json'), 'utf8'))
  return join(scratch, `${name.replace('@', '').replace('/', '-')}-${version}.tgz`)
}

for (const each of wrong) console.error(each)
process.exit(wrong.length === 0 ? 0 : 1)
