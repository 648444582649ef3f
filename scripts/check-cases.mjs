// Every case of docs/semantics is named by a test, and every case that a test names is there.
import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const texts = (...paths) =>
  execFileSync('git', ['ls-files', '-co', '--exclude-standard', '--', ...paths], {
    cwd: root,
    encoding: 'utf8',
  })
    .split('\n')
    .filter(Boolean)
    .map((file) => readFileSync(`${root}${file}`, 'utf8'))
    .join('\n')

const pages = texts('docs/semantics/*.md')
const written = new Set([...pages.matchAll(/^\| ([A-Z]{1,2}\d{1,2}) \|/gm)].map(([, id]) => id))
const kinds = [...new Set([...written].map((id) => id.replace(/\d+/, '')))].join('|')
const named = new Set(
  [
    ...texts(':(glob)packages/*/test/**', ':(glob)examples/test/**').matchAll(
      new RegExp(`\\b(?:${kinds})\\d{1,2}\\b`, 'g'),
    ),
  ].map(([id]) => id),
)

/** Laws of the whole are held by properties that check several at once. */
const isLaw = (id) => /^G\d/.test(id)
const wrong = [
  ...[...written].filter((id) => !isLaw(id) && !named.has(id)).map((id) => `no test names ${id}`),
  ...[...named].filter((id) => !written.has(id)).map((id) => `docs/semantics says nothing of ${id}`),
]
for (const each of wrong) console.log(each)
console.log(`${written.size} cases in docs/semantics, ${wrong.length} to fix`)
process.exitCode = wrong.length === 0 ? 0 : 1
