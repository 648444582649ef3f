import { readFileSync } from 'node:fs'
import { modes } from '@zinc-referee/examples'
import { Ajv2020 } from 'ajv/dist/2020.js'
import { expect, test } from 'vitest'
import { beginAnyMatch } from 'zinc-referee'
import { playToEnd, randomCrowd } from 'zinc-referee/testing'

const schema = JSON.parse(readFileSync(new URL('../../docs/record.schema.json', import.meta.url), 'utf8'))
const validate = new Ajv2020({ allErrors: true }).compile(schema)

test.each(Object.entries(modes))(
  'every line of a record of %s fits the schema of the format',
  (name, { rulebook, demo }) => {
    const lines: string[] = []
    const match = beginAnyMatch(rulebook, { seed: name, record: (line) => lines.push(line) })
    for (const { id, name: called } of demo.seats ?? [])
      match.direct('roster.join', { seat: id, name: called }, { referee: 'Toad' })
    for (const { id } of demo.seats ?? []) match.submit(id, 'roster.ready', {}, { id: 1 })
    match.submit('nobody', 'roster.ready', {})
    match.report('nothing.there', { x: 1 })
    match.reportAll('raft.rammed', [{ target: 'otter', by: 'heron' }, { target: 3 }])
    match.direct('phases.pause', 'what' as never)
    match.direct('match.set', { rule: 'phases', settings: { countdown: 10 } })
    playToEnd(match, randomCrowd(name), 60_000)
    match.close()
    for (const line of lines) {
      const fits = validate(JSON.parse(line))
      expect(fits ? [] : [line, validate.errors]).toEqual([])
    }
    expect(new Set(lines.flatMap((line) => Object.keys(JSON.parse(line))))).toContain('no')
    expect(validate({ t: 1, submit: 'a.b', input: {} })).toBe(false)
    expect(validate({ t: -1, check: 'zz' })).toBe(false)
  },
)
