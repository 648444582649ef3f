// Every name that a package exports has a docstring, and nearly every member of an exported interface or class.
import { existsSync, readFileSync } from 'node:fs'
import { dirname, join, relative } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const ENTRIES = [
  'packages/core/src/index.ts',
  'packages/core/src/rules/index.ts',
  'packages/core/src/settings/index.ts',
  'packages/core/src/host/index.ts',
  'packages/core/src/replica/index.ts',
  'packages/core/src/testing/index.ts',
  'packages/venue/src/index.ts',
  'packages/venue/src/client/index.ts',
  'packages/circuit/src/index.ts',
]
/** How many members of a hundred must have one. */
const MEMBERS = 95
const NAMED = /^export(?:\s+type)?\s+\{([^}]*)\}\s+from\s+'(\.[^']+)'/gms

const textOf = (file) => (existsSync(join(root, file)) ? readFileSync(join(root, file), 'utf8') : '')

/** The file that declares a name, and what it is called there. */
function originOf(file, name) {
  for (const [, names, path] of textOf(file).matchAll(NAMED))
    for (const each of names.split(',')) {
      const [inner = '', outer = inner] = each
        .trim()
        .replace(/^type /, '')
        .split(' as ')
      if (outer === name) return originOf(join(dirname(file), path), inner)
    }
  return { file, name }
}

const isDocumented = (lines, at) => /\*\/\s*$/.test(lines[at - 1] ?? '')

/** The members of the interface or class that begins at a line: name, and whether it has a docstring. */
function membersOf(lines, at) {
  const members = []
  if (!/^export (abstract )?(interface|class) /.test(lines[at])) return members
  for (let line = at + 1; line < lines.length && !/^}/.test(lines[line]); line++) {
    const member = /^ {2}(?:readonly |static |override |get |async )*([A-Za-z]\w*)[?(:<]/.exec(lines[line])
    if (member === null || member[1] === 'constructor' || /^ {2}(private|protected)/.test(lines[line]))
      continue
    if (members.at(-1)?.name === member[1]) continue // overloads
    members.push({ name: member[1], documented: isDocumented(lines, line) })
  }
  return members
}

const bare = []
const members = []
const seen = new Set()
let exported = 0
for (const entry of ENTRIES)
  for (const [, names] of textOf(entry).matchAll(NAMED))
    for (const each of names.split(',')) {
      const outer = each
        .trim()
        .replace(/^type /, '')
        .split(' as ')
        .at(-1)
      if (outer === '') continue
      const { file, name } = originOf(entry, outer)
      const key = `${file} ${name}`
      if (seen.has(key)) continue
      seen.add(key)
      exported++
      const lines = textOf(file).split('\n')
      const at = lines.findIndex((line) =>
        new RegExp(
          `^export (declare )?(abstract )?(async )?(const|function|class|interface|type) ${name}\\b`,
        ).test(line),
      )
      if (at < 0 || !isDocumented(lines, at)) bare.push(`${relative('.', file)}: ${name}`)
      if (at >= 0)
        for (const member of membersOf(lines, at))
          members.push({ ...member, where: `${file}: ${name}.${member.name}` })
    }

const without = members.filter(({ documented }) => !documented)
const share = Math.floor((100 * (members.length - without.length)) / Math.max(1, members.length))
for (const each of bare) console.log(`no docstring: ${each}`)
if (share < MEMBERS) for (const { where } of without) console.log(`no docstring: ${where}`)
console.log(
  `${exported - bare.length} of ${exported} exports and ${share} % of ${members.length} members have a docstring`,
)
process.exitCode = bare.length === 0 && share >= MEMBERS ? 0 : 1
