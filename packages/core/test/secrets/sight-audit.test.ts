import { expect, test } from 'vitest'
import { type AnyMatch, int, single } from 'zinc-referee'
import { auditSight, playMatch, playToEnd } from 'zinc-referee/testing'
import { auditOf, crowd, SEATS, type Stall, stallWith } from '../fixtures/shell-stall.ts'

const quick = { until: 10_000, checks: 6, comparisons: 240 }
const plain: Stall = { name: 'plain' }
const loud: Stall = {
  name: 'loud',
  drawn: (match, seat, shell) => match.emit('drew', { seat, face: shell.face }),
}

test('a leak is named by secret, viewer, place and the inputs that show it', () => {
  const leak = auditOf(loud, quick).leaks.find(({ secret }) => secret === 'stall.shells.face')
  expect(leak).toMatchObject({ by: 'notice', path: 'stall.drew', input: 'stall.draw' })
  expect(leak?.inputs.at(-1)).toMatch(/^\w+ stall\.draw$/)
})

test('a patch that removes what was never shown is found, whatever the secrets are', () => {
  const { leaks } = auditOf(plain, {
    ...quick,
    through: (update) => update && { ...update, patch: '[{"op":"remove","path":"/stall/shells/none"}]' },
  })
  expect(leaks).toContainEqual(expect.objectContaining({ by: 'patch' }))
})

test('a record is audited as it was played; one that is none is refused', () => {
  const record = (stall: Stall): string => {
    const { match, record: text } = playMatch(stallWith(stall), SEATS)
    playToEnd(match as AnyMatch, crowd(), 12_000)
    match.close()
    return text()
  }
  const asked = { also: ['stall.shells.at'], checks: 6 }
  expect(auditSight(stallWith(plain), { record: record(plain), ...asked }).leaks).toEqual([])
  expect(auditSight(stallWith(loud), { record: record(loud), ...asked }).leaks).not.toEqual([])
  expect(() => auditSight(stallWith(plain), { record: 'no record' })).toThrow(/ZR_RECORD_FOREIGN|header/)
})

test('what is revealed on purpose is no leak, and is counted by viewer; to whom else it goes is one', () => {
  const told = { secret: 'stall.shells.face', by: 'stall.drew', why: 'it is called out' }
  const order = { ...told, secret: 'stall.shells.at', to: 'everyone' } // what lay on top is called out with it
  const all = auditOf(loud, { ...quick, discloses: [{ ...told, to: 'everyone' }, order] })
  expect(all.leaks).toEqual([])
  const times = all.disclosed.find(({ by }) => by === 'stall.drew')?.times ?? {}
  expect(Object.keys(times).length).toBeGreaterThan(1)
  const one = auditOf(loud, { ...quick, discloses: [{ ...told, to: 'seat' }] })
  expect(one.leaks).toContainEqual(expect.objectContaining({ secret: 'stall.shells.face', by: 'notice' }))
  // What comes due at the very ms of an input is revealed by time.
  const start = (match: any, _: string, { face }: any) => match.timers.start('hush', { in: 0, key: face })
  const soon: Stall = { name: 'soon', drawn: start }
  const later = [
    { ...told, by: 'time', to: 'everyone' },
    { ...order, by: 'time' },
  ]
  expect(auditOf(soon, quick).leaks).not.toEqual([])
  expect(auditOf(soon, { ...quick, discloses: later }).leaks).toEqual([])
})

test('what an audit cannot speak for is said: secrets never varied, faults of the mode', () => {
  const { incomplete, faults } = auditOf(
    {
      name: 'broken',
      actions: {
        slip: {
          input: {},
          decide() {
            throw new Error('fell over')
          },
        },
      },
    },
    quick,
  )
  expect(incomplete.join()).toContain('stall.cups.spot was never varied')
  expect(faults).toEqual([
    expect.objectContaining({ handler: 'stall action slip', error: 'Error: fell over' }),
  ])
})

test('a rule offers other states where several cells must change together', () => {
  const vault = (swapped: object): Stall => ({
    name: 'vault',
    state: { scales: single({ left: int(3), right: int(7) }) },
    varies: { scales: [] },
    drawn(match) {
      const { left, right } = match.own.scales
      if (left + right !== 10) throw new Error('the scales are out of balance')
      match.own.stand.isRich = left > 5
    },
    ...swapped,
  })
  const swap = (match: any): void => {
    const { left, right } = match.own.scales
    Object.assign(match.own.scales, { left: right, right: left })
  }
  expect(auditOf(vault({}), quick).leaks).toEqual([])
  const { leaks, secrets } = auditOf(vault({ variations: { swapped: swap } }), quick)
  expect(leaks).toContainEqual(
    expect.objectContaining({ secret: 'stall.swapped', path: '/stall/stand/isRich' }),
  )
  expect(secrets['stall.swapped']?.varied).toBeGreaterThan(0)
  const broken = vault({ variations: { swapped: () => (undefined as any).part } })
  expect(() => auditOf(broken, quick)).toThrow(TypeError)
})

test('an audit that could find nothing is refused: too few seats, no moment to look at, names that are not there', () => {
  expect(() => auditOf(plain, { seats: ['otter'] })).toThrow(/did not begin with 1 seats/)
  expect(() => auditOf(plain, { checks: 0 })).toThrow(/0 checks/)
  expect(() => auditOf(plain, { also: ['stall.shell.at'] })).toThrow(/'stall\.shell\.at'/)
  const wrong = (part: object) =>
    auditOf(plain, {
      discloses: [{ secret: 'stall.shells.face', by: 'stall.draw', to: 'asker', why: 'x', ...part }],
    })
  expect(() => wrong({ secret: 'stall.shells.fase' })).toThrow(/not a secret here/)
  expect(() => wrong({ by: 'stall.drawn' })).toThrow(/neither an input nor an event/)
  expect(() => wrong({ to: 'stall.friends' })).toThrow(/not a group/)
})
