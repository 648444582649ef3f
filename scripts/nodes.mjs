// npm run nodes: the tests of core, venue and command on each Node that we promise. npm run nodes -- 24: on that one.
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const PROMISED = ['20', '22', '24']
const asked = process.argv.slice(2)
if (asked.some((each) => !/^\d+$/.test(each))) {
  console.log(`npm run nodes              on Node ${PROMISED.join(', ')}
npm run nodes -- 22 24     on these`)
  process.exit(asked.includes('--help') ? 0 : 2)
}
const root = fileURLToPath(new URL('..', import.meta.url))
const setup = spawnSync(process.execPath, ['scripts/setup.mjs', '--quiet'], { cwd: root, stdio: 'inherit' })
if (setup.status !== 0) process.exit(setup.status ?? 1)

/** A Node of this version: the one that runs this, or one from npm, kept for the next time. */
function nodeOf(major) {
  if (process.versions.node.startsWith(`${major}.`)) return process.execPath
  const folder = join(root, 'node_modules', '.cache', 'nodes', major)
  const name = `node-${process.platform === 'win32' ? 'win' : process.platform}-${process.arch}`
  const binary = join(folder, 'node_modules', name, 'bin', 'node')
  if (existsSync(binary)) return binary
  mkdirSync(folder, { recursive: true })
  console.error(`setting up: Node ${major}`)
  const install = ['i', '--ignore-scripts', '--no-audit', '--no-fund', '--no-save', '--prefix', folder]
  const { status } = spawnSync('npm', [...install, `${name}@${major}`], {
    cwd: folder,
    stdio: ['ignore', 2, 2],
  })
  if (status !== 0 || !existsSync(binary)) {
    console.error(
      `Node ${major} cannot be had as ${name}@${major} from npm. Install it and run npm test with it.`,
    )
    process.exit(2)
  }
  return binary
}

const results = (asked.length > 0 ? asked : PROMISED).map((major) => {
  const node = nodeOf(major)
  const version = spawnSync(node, ['--version'], { encoding: 'utf8' }).stdout.trim()
  console.log(`\n${version}`)
  const folders = ['core', 'venue', 'cli'].map((name) => `packages/${name}/`)
  const { status } = spawnSync(
    node,
    ['node_modules/vitest/vitest.mjs', 'run', '--reporter=dot', '--project', 'node', ...folders],
    {
      cwd: root,
      stdio: 'inherit',
    },
  )
  return { version, passed: status === 0 }
})
console.log('')
for (const { version, passed } of results) console.log(`${version}   ${passed ? 'passed' : 'FAILED'}`)
process.exit(results.every(({ passed }) => passed) ? 0 : 1)
