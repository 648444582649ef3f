// npm test: sets up what is missing, then runs every test. --no-browser leaves the browser tests out and says so.
import { spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
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

const { ensureNats } = await import('./nats-servers.mjs')
const missing = ensureNats()
if (missing !== undefined) console.error(missing) // the tests that need it fail with this fix

const vitest = fileURLToPath(new URL('../node_modules/vitest/vitest.mjs', import.meta.url))
const rest = args.filter((arg) => arg !== '--no-browser')
/** All that tests write beside the project: it goes with them. */
const folder = mkdtempSync(join(tmpdir(), 'zinc-tests-'))
const counts = join(folder, 'counts.json')

/** Runs the tests of these files, or of all, and returns what came of it. */
function runTests(files) {
  rmSync(counts, { force: true })
  const { status } = spawnSync(
    process.execPath,
    [vitest, 'run', ...(browser ? [] : ['--project', '!browser']), ...files],
    { cwd: root, stdio: 'inherit', env: { ...process.env, TMPDIR: folder, ZR_TEST_COUNTS: counts } },
  )
  return existsSync(counts)
    ? { status, ...JSON.parse(readFileSync(counts, 'utf8')) }
    : { status, passed: 0, failed: 1, unstarted: [] }
}

let { passed, failed, status, unstarted } = runTests(rest)
// On a machine that stands still for a minute, the process of a file may not start: nothing of it was tested yet.
if (unstarted.length > 0) {
  console.error(`once more, since their process did not start: ${unstarted.join(', ')}`)
  const again = runTests(unstarted)
  status = failed > 0 ? status : again.status
  passed += again.passed
  failed += again.failed + again.unstarted.length
}
rmSync(folder, { recursive: true, force: true, maxRetries: 5 })
console.log(`${passed} passed, ${failed} failed`)
process.exit(failed > 0 ? 1 : (status ?? 1))
