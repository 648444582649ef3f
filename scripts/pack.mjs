// Packs the published packages into packed/, for a folder that depends on them.
import { execFileSync } from 'node:child_process'
import { mkdirSync, rmSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const into = fileURLToPath(new URL('../packed/', import.meta.url))
rmSync(into, { recursive: true, force: true })
mkdirSync(into)
const workspaces = ['packages/core', 'packages/venue', 'examples', 'packages/cli'].flatMap((folder) => [
  '--workspace',
  folder,
])
execFileSync(
  'npm',
  ['pack', '--ignore-scripts', '--loglevel=error', '--pack-destination', into, ...workspaces],
  { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] },
)
console.log('packed/ holds the packages: npm install PATH/packed/*.tgz')
