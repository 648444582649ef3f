import { execFileSync } from 'node:child_process'
import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { afterAll, beforeAll, expect, test } from 'vitest'

const at = (path: string): string => fileURLToPath(new URL(path, import.meta.url))
const guide = at('../../docs/guide/')
const folder = at('../.guide/')
const pages = readdirSync(guide).filter((name) => name.endsWith('.md'))

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
  for (const page of pages) writeFileSync(`${folder}${page.replace('.md', '.ts')}`, moduleOf(page))
  writeFileSync(
    `${folder}tsconfig.json`,
    JSON.stringify({ extends: '../../tsconfig.test.json', include: ['*.ts'] }),
  )
})
afterAll(() => rmSync(folder, { recursive: true }))

test.each(pages)('the snippets of guide/%s give what they say', async (page) => {
  const module = (await import(/* @vite-ignore */ `${folder}${page.replace('.md', '.ts')}`)) as {
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
