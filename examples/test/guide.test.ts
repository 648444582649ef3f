import { execFileSync } from 'node:child_process'
import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { afterAll, beforeAll, expect, test } from 'vitest'
import * as rules from 'zinc-referee/rules'

const at = (path: string): string => fileURLToPath(new URL(path, import.meta.url))
const guide = at('../../docs/guide/')
const folder = at('../.guide/')
const pages = ['', 'rules/'].flatMap((part) =>
  readdirSync(guide + part).flatMap((name) => (name.endsWith('.md') ? [part + name] : [])),
)
const moduleName = (page: string): string => page.replace('/', '-').replace('.md', '.ts')

/** The blocks of a page as one module: a line that gives a value becomes a check that it does. */
function moduleOf(page: string): string {
  const blocks = [...readFileSync(guide + page, 'utf8').matchAll(/```ts\n([\s\S]*?)```/g)].map(
    ([, code]) => code,
  )
  const lines = blocks.join('\n').split('\n')
  const checked = lines.map((line) => {
    const [, expression, value] = /^(\S.*) \/\/ → (.+)$/.exec(line) ?? []
    return expression === undefined ? line : `checks.push([${JSON.stringify(line)}, ${expression}, ${value}])`
  })
  const imports = checked.filter((line) => /^import .* from /.test(line))
  const rest = checked.filter((line) => !imports.includes(line))
  return [...imports, 'export const checks: [string, unknown, unknown][] = []', ...rest].join('\n')
}

beforeAll(() => {
  mkdirSync(folder, { recursive: true })
  for (const page of pages) writeFileSync(folder + moduleName(page), moduleOf(page))
  // Against the packages as they are built, as for a reader of the guide.
  const compilerOptions = { customConditions: [] }
  writeFileSync(
    `${folder}tsconfig.json`,
    JSON.stringify({ extends: '../../tsconfig.test.json', include: ['*.ts'], compilerOptions }),
  )
})
afterAll(() => rmSync(folder, { recursive: true }))

test.each(pages)('the snippets of guide/%s give what they say', async (page) => {
  const module = (await import(/* @vite-ignore */ folder + moduleName(page))) as {
    readonly checks: [string, unknown, unknown][]
  }
  expect(module.checks.length).toBeGreaterThan(3)
  for (const [line, got, wanted] of module.checks) expect(got, line).toEqual(wanted)
})

test('the snippets of the guide type-check with all flags, without a cast but where one is shown', () => {
  const output = (() => {
    try {
      return execFileSync(process.execPath, [at('../../node_modules/typescript/bin/tsc'), '-p', folder], {
        encoding: 'utf8',
      })
    } catch (error) {
      return String((error as { stdout?: unknown }).stdout)
    }
  })()
  expect(output).toBe('')
})

test('each built-in rule has its page, and what is written from the rules is current', () => {
  const named = Object.keys(rules).filter((name) => 'definition' in Object(Reflect.get(rules, name)))
  const noRules = ['conditionsOf', 'directionOf', 'contentsOf', 'spotsOf', 'linesOf', 'bordersOf']
  const made = Object.keys(rules)
    .filter((name) => /^[a-z]+Of$/.test(name) && !noRules.includes(name))
    .map((name) => name.replace(/Of$/, ''))
  for (const rule of [...named, ...made]) expect(pages).toContain(`rules/${rule}.md`)
  execFileSync(process.execPath, [at('../../scripts/rule-pages.mjs'), '--check'], { encoding: 'utf8' })
})
