// Does what a fresh clone needs before anything runs: npm packages, then a build. Says what it does; does nothing twice.
import { execFileSync } from 'node:child_process'
import { existsSync, readdirSync, statSync, utimesSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const at = (...path) => join(root, ...path)
const quiet = process.argv.includes('--quiet')
const run = (what, command, args) => {
  console.error(`setting up: ${what}`)
  execFileSync(command, args, {
    cwd: root,
    stdio: quiet ? ['ignore', 'ignore', 'inherit'] : ['ignore', 2, 'inherit'],
  })
}

const [major, minor] = process.versions.node.split('.').map(Number)
if (major < 20 || (major === 20 && minor < 19)) {
  console.error(`Node ${process.versions.node} is too old: install Node 20.19 or newer.`)
  process.exit(2)
}

const installed = at('node_modules', '.package-lock.json')
const age = (path) => (existsSync(path) ? statSync(path).mtimeMs : 0)
const installs = !existsSync(installed) || age(at('package-lock.json')) > age(installed)
if (installs) {
  run('npm packages (npm ci)', 'npm', [
    'ci',
    '--ignore-scripts',
    '--no-audit',
    '--no-fund',
    '--loglevel=error',
  ])
  utimesSync(installed, new Date(), new Date())
}

const stamp = at('node_modules', '.built')
if (installs || newestSource() > age(stamp) || !existsSync(at('packages', 'cli', 'dist', 'main.js'))) {
  run('build', process.execPath, [at('scripts', 'build.mjs')])
  writeFileSync(stamp, '')
}

function newestSource() {
  const folders = ['packages', 'examples', 'bench'].map((folder) => at(folder))
  let newest = 0
  for (let folder = folders.pop(); folder !== undefined; folder = folders.pop()) {
    for (const entry of readdirSync(folder, { withFileTypes: true })) {
      const path = join(folder, entry.name)
      if (entry.isDirectory()) {
        if (!['node_modules', 'dist', 'test'].includes(entry.name)) folders.push(path)
      } else newest = Math.max(newest, statSync(path).mtimeMs)
    }
  }
  return newest
}
