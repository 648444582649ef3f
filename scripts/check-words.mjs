// Finds phrases that our pages, docstrings and messages do not use, and what to write in their place. Fails on any.
import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

/** Phrase, and what a native engineer would write. */
const phrases = [
  [/nothing said/i, 'Default: …'],
  [/\banew\b/i, 'again'],
  [/\bso many (ms|more|of)\b/i, 'this many …, or n …'],
  [/\b(is|are|was) told\b/i, 'is sent, is notified, is shown'],
  [/\bstands? (in|under)\b/i, 'is in, is under'],
  [/\bworked out\b/i, 'computed'],
  [/\bmend(s|ed)?\b/i, 'fix'],
  [/\bhanded over\b/i, 'passed, given'],
  [/\bobey\b/i, 'handle'],
  [/\bis no (number|cell|snapshot|seat)\b/i, 'is not a …, unknown …'],
]
const root = fileURLToPath(new URL('..', import.meta.url))
const files = execFileSync(
  'git',
  ['ls-files', '--', 'packages/*/src/*', 'docs/*.md', 'docs/**/*.md', 'README.md', 'examples/*'],
  { cwd: root, encoding: 'utf8' },
)
  .split('\n')
  .filter((file) => /\.(ts|tsx|md|css|html)$/.test(file))
  .filter((file) => file !== 'docs/decisions/0011-plain-names.md') // it lists what was

let found = 0
for (const file of files)
  for (const [at, line] of readFileSync(root + file, 'utf8')
    .split('\n')
    .entries())
    for (const [phrase, instead] of phrases) {
      const [words] = phrase.exec(line) ?? []
      if (words === undefined) continue
      found++
      console.error(`${file}:${at + 1}   "${words}": write ${instead}`)
    }
console.log(`${files.length} files, ${found} phrases to replace`)
process.exit(found === 0 ? 0 : 1)
