// Packs the published packages into packed/, for a folder that depends on them. What has not changed is kept.
import { execFileSync } from 'node:child_process'
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const into = join(root, 'packed')
mkdirSync(into, { recursive: true })

const folders = ['packages/core', 'packages/venue', 'packages/circuit', 'examples', 'packages/cli']
const packages = folders.map((folder) => {
  const { name, version } = JSON.parse(readFileSync(join(root, folder, 'package.json'), 'utf8'))
  return { folder, name, file: `${name.replace('@', '').replace('/', '-')}-${version}.tgz` }
})
/** When the last of a package's files was written, ms. */
const newest = (path) =>
  statSync(path).isDirectory()
    ? Math.max(0, ...readdirSync(path).map((name) => newest(join(path, name))))
    : statSync(path).mtimeMs
const isStale = ({ folder, file }) => {
  const packed = join(into, file)
  if (!existsSync(packed)) return true
  const parts = ['package.json', 'README.md', 'bin', 'dist', 'src'].map((name) => join(root, folder, name))
  return Math.max(...parts.filter(existsSync).map(newest)) > statSync(packed).mtimeMs
}

for (const file of readdirSync(into))
  if (!packages.some((each) => each.file === file)) rmSync(join(into, file))
const stale = packages.filter(isStale)
if (stale.length > 0)
  execFileSync(
    'npm',
    [
      'pack',
      '--ignore-scripts',
      '--loglevel=error',
      '--pack-destination',
      into,
      ...stale.flatMap(({ folder }) => ['--workspace', folder]),
    ],
    { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] },
  )
for (const each of packages) console.log(`${stale.includes(each) ? 'packed   ' : 'unchanged'}   ${each.name}`)
console.log('\npacked/ holds the packages: npm install PATH/packed/*.tgz')
