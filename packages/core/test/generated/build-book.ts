import {
  type AnyCell,
  amount,
  anyOf,
  choice,
  defineRule,
  defineRulebook,
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
  refuse,
  rowOf,
  seatRef,
  set,
  side,
  single,
  table,
  text,
  time,
} from 'zinc-referee'
import type { BookData, CellData, Deed, PartData } from './describe-book.ts'
import { GROUPS } from './describe-book.ts'

/** Any JSON, as a schema. */
const anything = {
  '~standard': { version: 1, vendor: 'test', validate: (value: unknown) => ({ value }) },
} as any
const WORDS = ['salt', 'silk', 'a/b~c', '"quoted"', 'ñ🦦']

/** Keeps who is in which group and on which side; the groups and sides of the generated rule read it. */
const club = defineRule({
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

/** In place of what a seat may not know; see the law of hidden values. */
export type Salt = (part: number, cell: number, seat: string | undefined) => number

/** The rulebook that the data describes: one rule with its parts, whose only input does what it is told. */
export function buildBook(data: BookData, generateCode: boolean, salt: Salt = () => 0) {
  const tables = data.parts.flatMap(({ kind }, at) => (kind === 'table' ? [`p${at}`] : []))
  const state = Object.fromEntries(data.parts.map((part, at) => [`p${at}`, buildPart(part, tables)]))
  const rule = defineRule({
    name: 'maze',
    needs: [club],
    state: state as any,
    drafts: { toll: { seat: seatRef(), price: amount().between(0, 99) } },
    events: {
      told: {
        seat: seatRef().seenBy(everyone),
        secret: int().seenBy(owner),
        rumour: int().seenBy(group(club, 'reeds')),
      },
    },
    apply: {
      toll(_match: any, { price }: any) {
        return price > 8 ? refuse('too-dear') : undefined
      },
    },
    timers: {
      once: { clock: 'match', fire: fire as any },
      beat: { clock: 'match', band: 'lapse', fire: fire as any },
    },
    directives: { act: { input: anything, obey: (match: any, deeds: any) => act(match, deeds) } },
  } as any) as any

  function fire(match: any, key: string): void {
    const [part, row, cell, value] = key.split(' ').map(Number)
    if ((value ?? 0) > 10) throw new Error('fell over in a timer')
    write(match, { do: 'write', part: part ?? 0, row: row ?? 0, cell: cell ?? 0, value: value ?? 0 })
  }

  function act(match: any, deeds: readonly Deed[]) {
    for (const deed of deeds) {
      const refusal = carryOut(match, deed)
      if (refusal) return refusal
    }
    return undefined
  }

  function carryOut(match: any, deed: Deed) {
    const { row: chosen, value } = deed
    const seat = match.seats[chosen % match.seats.length]
    const { name, at, rows } = partOf(match, deed.part)
    const key = `${at} ${chosen} ${deed.cell} ${value}`
    switch (deed.do) {
      case 'write':
        return write(match, deed)
      case 'insert':
        if (data.parts[at]?.kind === 'table') match.own[name].add(values(match, at, value, seat))
        return undefined
      case 'remove':
        if (data.parts[at]?.kind === 'table' && rows.length > 0)
          match.own[name].remove(rows[chosen % rows.length].id)
        return undefined
      case 'renew':
        if (data.parts[at]?.kind === 'table' && rows.length > 0)
          match.own[name].renew(rows[chosen % rows.length].id)
        return undefined
      case 'reverse':
        for (const each of rows)
          for (const [n, { kind }] of cellsOf(at))
            if (kind === 'list') each[`c${n}`] = [...each[`c${n}`]].reverse()
        return undefined
      case 'whisper': {
        // What Heron cannot know: in one of two runs it does not happen at all.
        const row = rows[deed.row % Math.max(1, rows.length)]
        if (row !== undefined && row.id !== 'heron') row.hush += salt(-2, 0, undefined)
        return undefined
      }
      case 'member':
        return match.use(club).join(seat, GROUPS[value % 2])
      case 'side':
        return match.use(club).change(seat, value % 3)
      case 'timer':
        return match.timers.start('once', { key, in: value * 7 })
      case 'beat':
        return match.timers.start('beat', { key: `${at} ${chosen} 0 1`, every: 100 + value })
      case 'cancel':
        return match.timers.cancel('beat', `${at} ${chosen} 0 1`)
      case 'draw':
        return write(match, { ...deed, value: match.chance('maze').int(0, 5) })
      case 'tell':
        return match.emit('told', {
          seat,
          secret: value + salt(-1, 0, seat),
          rumour: value + salt(-1, 1, undefined),
        })
      case 'draft': {
        const ruling = match.resolve('toll', { seat, price: value })
        return ruling.ok ? undefined : ruling
      }
      case 'span':
        return match.begins(value % 2 ? 'round' : 'bout')
      case 'throw':
        throw new Error('fell over')
      case 'refuse':
        return refuse('would-not')
    }
  }

  const cellsOf = (part: number) => [...(data.parts[part]?.cells ?? []).entries()]

  function partOf(match: any, part: number) {
    const at = part % data.parts.length
    const name = `p${at}`
    const { kind } = data.parts[at] as PartData
    const rows =
      kind === 'perSeat'
        ? match.seats.map((seat: string) => match.own[name].of(seat))
        : kind === 'single'
          ? [match.own[name]]
          : match.own[name].all()
    return { at, name, rows }
  }

  function write(match: any, { part, row, cell, value }: Deed) {
    const { at, rows } = partOf(match, part)
    const chosen = rows[row % rows.length]
    const cells = data.parts[at]?.cells ?? []
    const n = cell % (cells.length + 2)
    if (chosen === undefined) return
    const seat = data.parts[at]?.kind === 'perSeat' ? match.seats[row % rows.length] : undefined
    if (n === cells.length) chosen.lid = value % 2 === 0
    else if (n === cells.length + 1) chosen.holder = match.seats[value % (match.seats.length + 1)]
    else chosen[`c${n}`] = valueFor(match, at, n, value, seat)
  }

  const values = (match: any, at: number, value: number, holder: string) => ({
    holder: value % 4 === 0 ? undefined : holder,
    ...Object.fromEntries(cellsOf(at).map(([n]) => [`c${n}`, valueFor(match, at, n, value + n, undefined)])),
  })

  function valueFor(match: any, at: number, n: number, plain: number, seat: string | undefined): unknown {
    const { kind } = (data.parts[at] as PartData).cells[n] as CellData
    const value = plain + salt(at, n, seat)
    const rows = tables.length === 0 ? [] : match.own[tables[n % tables.length] ?? ''].all()
    switch (kind) {
      case 'int':
        return value
      case 'num':
        return value === 0 ? -0 : value / 4
      case 'text':
        return WORDS[value % WORDS.length]?.repeat(value % 3)
      case 'flag':
        return value % 2 === 0
      case 'choice':
        return value % 2 === 0 ? 'salt' : 'silk'
      case 'time':
        return value === 0 ? undefined : value * 100
      case 'seat':
        return match.seats[value % (match.seats.length + 1)]
      case 'row':
        return tables.length === 0 ? value : rows[value % (rows.length + 1)]?.id
      case 'rows':
        return rows.filter((_: unknown, each: number) => (value >> each) & 1).map(({ id }: any) => id)
      case 'list':
        return Array.from({ length: value % 6 }, (_, each) => (value * (each + 1)) % 4)
      case 'set':
        return new Set(WORDS.filter((_, each) => (value >> each) & 1))
      case 'map':
        return new Map(
          WORDS.filter((_, each) => (value >> each) & 1).map((word, each) => [word, value + each]),
        )
      case 'json':
        return { value, words: WORDS.slice(0, value % 4), nested: { deep: [value, null] } }
    }
  }

  return defineRulebook({
    name: 'generated',
    seats: { min: 1, max: 4 },
    rules: [club, rule],
    generateCode,
  } as any) as any
}

function buildPart({ kind, cells, span, indexed, derives }: PartData, tables: readonly string[]): unknown {
  const built = Object.fromEntries(cells.map((cell, n) => [`c${n}`, buildCell(cell, n, kind, tables)]))
  const all = {
    ...built,
    hush: int(0).seenBy(kind === 'perSeat' ? owner : group(club, 'reeds')),
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
