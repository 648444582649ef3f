import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { rpcErrors, venueErrorCodes } from '@zinc-referee/venue'
import { expect, test } from 'vitest'
import { errorCodes, refusalTexts } from 'zinc-referee'

const root = fileURLToPath(new URL('../../../', import.meta.url))
const page = readFileSync(join(root, 'docs/errors.md'), 'utf8')
const listed = (pattern: RegExp) => [...page.matchAll(pattern)].map(([, code]) => code).sort()

test('docs/errors.md lists every code of an error, a refusal and a protocol error, and no other', () => {
  expect(listed(/^\| `(ZR_\w+)` \|/gm)).toEqual([...errorCodes, ...venueErrorCodes].sort())
  const [refusals = '', protocol = ''] = page.slice(page.indexOf('## Refusals')).split('## Protocol')
  const codes = (part: string) => [...part.matchAll(/^\| `([a-z-]+)` \|/gm)].map(([, code]) => code).sort()
  expect(codes(refusals)).toEqual(Object.keys(refusalTexts).sort())
  expect(codes(protocol)).toEqual(Object.keys(rpcErrors).sort())
  for (const line of page.split('\n').filter((each) => each.startsWith('| `')))
    expect(
      line.split('|').every((cell, at, all) => at === 0 || at === all.length - 1 || cell.trim() !== ''),
      line,
    ).toBe(true)
})

test('every code that the packages refuse with has a text, and none is thrown without a code', () => {
  const sources = ['packages/core/src', 'packages/venue/src'].flatMap((folder) =>
    readdirSync(join(root, folder), { recursive: true, encoding: 'utf8' })
      .filter((file) => file.endsWith('.ts'))
      .map((file) => readFileSync(join(root, folder, file), 'utf8')),
  )
  for (const source of sources) {
    for (const [, code = ''] of source.matchAll(/[^.]refuse\(\s*'([a-z-]+)'/g))
      expect(Object.keys(refusalTexts)).toContain(code)
    expect(source).not.toMatch(/throw new Error\(/)
  }
})
