import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { circuitErrorCodes } from '@zinc-referee/circuit'
import { rpcErrors, venueErrorCodes } from '@zinc-referee/venue'
import { expect, test } from 'vitest'
import { errorCodes } from 'zinc-referee'

const root = fileURLToPath(new URL('../../../', import.meta.url))
const page = readFileSync(join(root, 'docs/errors.md'), 'utf8')
const listed = (pattern: RegExp) => [...page.matchAll(pattern)].map(([, code]) => code).sort()

test('docs/errors.md lists every code of an error and a protocol error, and no other; no cell is empty', () => {
  expect(listed(/^\| `(ZR_\w+)` \|/gm)).toEqual(
    [...errorCodes, ...venueErrorCodes, ...circuitErrorCodes].sort(),
  )
  const protocol = page.slice(page.indexOf('## Protocol'))
  const codes = (part: string) => [...part.matchAll(/^\| `([a-z-]+)` \|/gm)].map(([, code]) => code).sort()
  expect(codes(protocol)).toEqual(Object.keys(rpcErrors).sort())
  for (const line of page.split('\n').filter((each) => each.startsWith('| `')))
    expect(
      line.split('|').every((cell, at, all) => at === 0 || at === all.length - 1 || cell.trim() !== ''),
      line,
    ).toBe(true)
})

test('no package throws an error without a code', () => {
  for (const folder of ['packages/core/src', 'packages/venue/src', 'packages/circuit/src'])
    for (const file of readdirSync(join(root, folder), { recursive: true, encoding: 'utf8' }))
      if (file.endsWith('.ts'))
        expect(readFileSync(join(root, folder, file), 'utf8')).not.toMatch(/throw new Error\(/)
})
