import {
  type AnyCell,
  anyOf,
  choice,
  defineRule,
  everyone,
  except,
  flag,
  group,
  int,
  json,
  list,
  map,
  maybe,
  nobody,
  num,
  only,
  owner,
  perSeat,
  rowOf,
  seatRef,
  set,
  side,
  single,
  table,
  text,
  time,
} from 'zinc-referee'
import type { CellData, PartData } from './describe-book.ts'

/** Any JSON, as a schema. */
export const anything = {
  '~standard': { version: 1, vendor: 'test', validate: (value: unknown) => ({ value }) },
} as any
/** Keeps who is in which group and on which side; the groups and sides of the generated rule read it. */
export const club = defineRule({
  name: 'club',
  state: { member: perSeat({ reeds: flag(false), sedges: flag(false), team: int(0).seenBy(everyone) }) },
  calls: {
    in: (match, of: 'reeds' | 'sedges') => match.seats.filter((seat) => match.own.member.of(seat)[of]),
    join(match, seat: string, of: 'reeds' | 'sedges') {
      const member = match.own.member.of(seat)
      member[of] = !member[of]
    },
    change(match, seat: string, team: number) {
      match.own.member.of(seat).team = team
    },
  },
  groups: {
    reeds: (match) => match.seats.filter((seat) => match.own.member.of(seat).reeds),
    sedges: (match) => match.seats.filter((seat) => match.own.member.of(seat).sedges),
  },
  sides: (match, seat) =>
    match.seats.filter((each) => match.own.member.of(each).team === match.own.member.of(seat).team),
})

/** A part of the state as the data describes it; references go to these tables. */
export function buildPart(
  { kind, cells, span, indexed, derives }: PartData,
  tables: readonly string[],
): unknown {
  const built = Object.fromEntries(cells.map((cell, n) => [`c${n}`, buildCell(cell, n, kind, tables)]))
  const all = {
    ...built,
    lid: flag(true),
    holder: maybe(seatRef()).seenBy(...(kind === 'single' ? [] : [everyone])),
  }
  const part: any = (kind === 'perSeat' ? perSeat : kind === 'single' ? single : (table as any))(all as any)
  const owned = kind === 'table' ? part.ownedBy('holder') : part
  const keyed = kind === 'table' && indexed ? owned.indexedBy('holder', 'c0', 'lid') : owned
  const policies = Object.fromEntries(
    cells.flatMap(({ sight, policy }, n) => (sight === 'policy' ? [[`c${n}`, POLICY[policy]]] : [])),
  )
  const masks = Object.fromEntries(
    cells.slice(0, 8).flatMap(({ mask }, n) =>
      mask === 'none'
        ? []
        : [
            [
              `c${n}`,
              {
                to: mask === 'everyone' ? everyone : group(club, 'sedges'),
                as: (row: any) => (row.lid ? 'covered' : (row.holder ?? 0)),
              },
            ],
          ],
    ),
  )
  const seen = Object.keys(policies).length > 0 ? keyed.seenWhen(policies) : keyed
  const masked = Object.keys(masks).length > 0 ? seen.maskedBy(masks) : seen
  const tally = (row: any, look: any) => look.use(club).in('reeds').length + (row.lid ? 10 : 0)
  return (derives ? masked.derives({ tally: { to: everyone, as: tally } }) : masked).each(span)
}

const POLICY: any[] = [
  (row: any) => (row.lid ? nobody : everyone),
  (row: any) => only(row.holder),
  (_row: any, look: any) => look.members(group(club, 'reeds')),
  (_row: any, look: any) => only(...look.use(club).in('sedges')),
  (row: any, look: any) => (row.lid ? except(everyone, ...look.use(club).in('reeds')) : everyone),
  (row: any, look: any) => anyOf(look.sideOf(row.holder), look.members(group(club, 'sedges'))),
  (row: any, look: any) => {
    if (look.use(club).in('sedges').length > 1) throw new Error('fell over in a sight')
    return row.lid ? everyone : look.members(group(club, 'sedges'))
  },
]

function buildCell(
  { kind, sight, gone }: CellData,
  n: number,
  part: PartData['kind'],
  tables: readonly string[],
): AnyCell {
  const target = tables[n % Math.max(tables.length, 1)]
  const cell: any = {
    int: () => int(0),
    num: () => num(0),
    latest: () => int(0).latest(500),
    'latest num': () => num(0).latest(500),
    text: () => text(''),
    flag: () => flag(false),
    choice: () => choice('salt', 'silk'),
    time: () => time(),
    seat: () => maybe(seatRef()),
    row: () =>
      target === undefined ? int(0) : maybe(rowOf(target)).whenGone(part === 'table' ? gone : 'clear'),
    rows: () => (target === undefined ? list(int(), []) : list(rowOf(target), [])),
    list: () => list(int(), []),
    set: () => set(text()),
    map: () => map(int()),
    json: () => json(anything, { value: 0 } as any),
  }[kind]()
  const seen = {
    nobody: [],
    everyone: [everyone],
    owner: part === 'single' ? [] : [owner],
    group: [group(club, 'reeds')],
    side: part === 'single' ? [] : [side],
    'owner or group': part === 'single' ? [group(club, 'sedges')] : [owner, group(club, 'sedges')],
    policy: [],
  }[sight]
  return cell.seenBy(...seen)
}
