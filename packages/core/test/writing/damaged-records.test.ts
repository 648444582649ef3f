import { expect, test } from 'vitest'
import { replayRecord } from 'zinc-referee'
import { code } from '../fixtures/error-code.ts'
import { at, fight, hit, skirmish } from '../fixtures/fight-mode.ts'

const lines = (): string[] => {
  const { match, record, replay } = fight()
  hit(match, 'otter', 'heron', 100)
  at(match, 5000)
  replay()
  return record().split('\n')
}
test.each<[string, string, (record: string[]) => string[]]>([
  ['a foreign first line', 'ZR_RECORD_FOREIGN', (r) => ['{"hello":1}', ...r.slice(1)]],
  [
    'a newer format',
    'ZR_RECORD_FOREIGN',
    (r) => [(r[0] ?? '').replace('"version":2', '"version":9'), ...r.slice(1)],
  ],
  [
    'rules that are no list',
    'ZR_RECORD_FOREIGN',
    (r) => [(r[0] ?? '').replace('{', '{"with":"tolls",'), ...r.slice(1)],
  ],
  [
    'a broken line',
    'ZR_RECORD_UNREADABLE',
    (r) => [...r.slice(0, 4), (r[4] ?? '').slice(0, 12), ...r.slice(5)],
  ],
  [
    'another rulebook',
    'ZR_RECORD_OTHER_RULEBOOK',
    (r) => [(r[0] ?? '').replace('skirmish', 'regatta'), ...r.slice(1)],
  ],
  [
    'a changed rulebook',
    'ZR_RECORD_OTHER_PLAN',
    (r) => [(r[0] ?? '').replace(/"plan":"../, '"plan":"zz'), ...r.slice(1)],
  ],
])('a record with %s: %s', (_what, wanted, damage) => {
  expect(code(() => replayRecord(skirmish, damage(lines()).join('\n')))).toBe(wanted)
})

test('a record that was tampered with differs, and the first line that does is named', () => {
  const record = lines()
  const blow = record.findIndex((line) => line.includes('moves.hit'))
  const tampered = record.with(blow, (record[blow] ?? '').replace('100', '99'))
  expect(replayRecord(skirmish, record.join('\n')).differs).toBeUndefined()
  expect(replayRecord(skirmish, tampered.join('\n')).differs?.line).toBe(record.length)
})

test('what a fact was told besides its input is in its record as it was given, and nothing else', () => {
  const { match, record, replay } = fight()
  const ways = [{}, { at: match.now }, { turn: 3 }, { lives: { heron: 1 } }, { lives: {}, turn: 0, at: 0 }]
  for (const how of ways) match.report('moves.hit', { target: 'heron', by: 'otter', amount: 1 }, how)
  const kept = record()
    .split('\n')
    .filter((line) => line.includes('"report":"moves.hit"'))
  expect(kept.map((line) => JSON.parse(line).how)).toEqual([undefined, ...ways.slice(1)])
  replay()
})
