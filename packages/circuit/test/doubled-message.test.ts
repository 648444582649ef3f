import { processClock } from '@zinc-referee/venue/keeping'
import { expect, test } from 'vitest'
import { Committer } from '../src/protocol/committer.ts'
import { type MatchMessage, textOf } from '../src/protocol/messages.ts'
import type { MatchStream, Stored } from '../src/protocol/ports.ts'
import { readMatch } from '../src/protocol/read-match.ts'

/** A stream in which everything gets in, as it does when servers check several messages before any is in. */
function streamOf(...messages: readonly (readonly [id: string, message: Partial<MatchMessage>])[]) {
  const all: Stored[] = []
  const put = (id: string, text: string): number => all.push({ sequence: all.length + 1, id, text })
  for (const [id, message] of messages)
    put(id, textOf({ kind: 'lines', epoch: 1, by: 'north@1', after: 0, from: 0, lines: [], ...message }))
  const stream: MatchStream = {
    publish: async (_, id, text) => put(id, text),
    last: async () => all.at(-1),
    at: async (sequence) => all[sequence - 1],
    next: async (_, sequence) => all[sequence - 1],
    remove: async () => undefined,
  }
  return stream
}
const base: any = { lines: 0, snapshot: { rulebook: 'tally' } }
const begun: readonly [string, Partial<MatchMessage>] = ['fair north@1 1', { kind: 'begin', base }]

test('a match is not taken when its owner wrote behind the second copy of a message', async () => {
  const stream = streamOf(begun, begun, ['fair north@1 2', { after: 2, lines: ['otter'] }])
  let owner: Stored | undefined
  const committer = new Committer({
    stream,
    clock: processClock,
    subject: 'fair',
    by: 'south@1',
    turn: 1,
    epoch: 2,
    after: { sequence: 1, id: 'fair north@1 1' },
    expected: 3,
    lines: 0,
    patience: 1000,
    stuck() {},
    fenced: (by) => {
      owner = by
    },
  })
  expect(await committer.claim('take')).toBe(false)
  expect(owner?.sequence).toBe(3)
})

test('a farewell behind one copy of a message does not count when another owner wrote behind the other', async () => {
  const taken = { kind: 'take', by: 'south@1', epoch: 2, after: 2, lines: ['heron'] } as const
  const hand = { kind: 'hand', after: 1, base } as const
  const stream = streamOf(begun, begun, ['fair south@1 1', taken], ['fair north@1 2', hand])
  const shelf: any = { get: async () => undefined }
  const found = await readMatch('fair', { stream, shelf })
  expect([found?.last.kind, found?.after.sequence, found?.tail]).toEqual(['take', 3, ['heron']])
})
