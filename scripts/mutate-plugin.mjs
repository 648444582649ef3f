// What scripts/mutate.mjs gives to Stryker: only one error of each line is tried, and what survives is said at once.
import { relative } from 'node:path'

const seed = process.env.MUTATE_SEED ?? ''

/** Of each line, one error is drawn: else a line with twenty places to change would count as twenty, and take as long. */
const checker = {
  async init() {},
  async group(mutants) {
    return [mutants.map(({ id }) => id)]
  },
  async check(mutants) {
    const drawn = new Map()
    // What runs when a file is read has its results kept by the runner, and would be tried with all tests.
    for (const mutant of mutants.filter((each) => !each.static)) {
      const line = `${mutant.fileName}:${mutant.location.start.line}`
      const best = drawn.get(line)
      if (best === undefined || weightOf(mutant) < weightOf(best)) drawn.set(line, mutant)
    }
    const chosen = new Set([...drawn.values()].map(({ id }) => id))
    return Object.fromEntries(
      mutants.map(({ id }) => [
        id,
        chosen.has(id) ? { status: 'passed' } : { status: 'compileError', reason: 'not drawn' },
      ]),
    )
  },
}

let tried = 0
const reporter = {
  onMutantTested({ status, fileName, location, mutatorName, replacement }) {
    if (['Ignored', 'CompileError', 'RuntimeError'].includes(status)) return
    tried++
    if (status === 'Survived' || status === 'NoCoverage')
      console.log(
        `${tried}: ${relative('', fileName)}:${location.start.line} ${status} ${mutatorName} ${replacement}`,
      )
  },
}

export const strykerPlugins = [
  { kind: 'Checker', name: 'one-a-line', factory: () => checker },
  { kind: 'Reporter', name: 'as-found', factory: () => reporter },
]

const weightOf = ({ id }) => hashOf(`${seed} ${id}`)

/** A number from a text: FNV-1a of 32 bits, which is even enough to draw lines by. */
export function hashOf(text) {
  let hash = 0x811c9dc5
  for (const char of text) hash = Math.imul(hash ^ char.codePointAt(0), 0x01000193) >>> 0
  return hash
}
