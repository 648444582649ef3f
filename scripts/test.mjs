// npm test: sets up what is missing, then runs every test. --no-browser leaves the browser tests out and says so.
import { spawnSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const args = process.argv.slice(2)
const browser = !args.includes('--no-browser')

const setup = spawnSync(process.execPath, ['scripts/setup.mjs'], { cwd: root, stdio: 'inherit' })
if (setup.status !== 0) process.exit(setup.status ?? 1)

if (browser) {
  const { ensureChromium } = await import('./chromium.mjs')
  try {
    ensureChromium()
  } catch (error) {
    console.error(error.message) // the other tests run all the same; those in the browser fail with this fix
  }
} else console.error('left out by --no-browser: the page in a real browser (examples/test/page.test.ts)')

const vitest = fileURLToPath(new URL('../node_modules/vitest/vitest.mjs', import.meta.url))
const rest = args.filter((arg) => arg !== '--no-browser')
const run = spawnSync(
  process.execPath,
  [vitest, 'run', ...(browser ? [] : ['--project', '!browser']), ...rest],
  { cwd: root, stdio: 'inherit' },
)
process.exit(run.status ?? 1)
