// Subjects of commits: at most 72 characters. Those up to FIRST were made before there was this check.
import { execFileSync } from 'node:child_process'

const FIRST = '4d54730'
const MOST = 72
const git = (...args) => execFileSync('git', args, { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] })

/** Since FIRST, or in a clone that is not so deep the last one. */
function subjects() {
  try {
    return git('log', '--format=%h %s', `${FIRST}..HEAD`)
  } catch {
    return git('log', '-1', '--format=%h %s')
  }
}

const all = subjects()
  .split('\n')
  .filter((line) => line !== '')
const long = all.filter((line) => line.slice(line.indexOf(' ') + 1).length > MOST)
for (const line of long) console.log(`longer than ${MOST} characters: ${line}`)
console.log(`${all.length} subjects of commits, ${long.length} too long`)
process.exitCode = long.length === 0 ? 0 : 1
