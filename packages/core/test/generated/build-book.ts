import {
  amount,
  defineRule,
  defineRulebook,
  everyone,
  group,
  int,
  owner,
  refuse,
  seatRef,
} from 'zinc-referee'
import { anything, buildPart, club } from './build-part.ts'
import type { BookData, CellData, Deed, PartData } from './describe-book.ts'
import { GROUPS } from './describe-book.ts'

const WORDS = ['salt', 'silk', 'a/b~c', '"quoted"', 'ñ🦦']

/** The rulebook that the data describes: one rule with its parts, whose only input does what it is told. */
export function buildBook(data: BookData, generateCode: boolean) {
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
    directives: { act: { input: anything, handle: (match: any, deeds: any) => act(match, deeds) } },
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
          secret: value,
          rumour: value,
        })
      case 'draft': {
        const ruling = match.resolve('toll', { seat, price: value })
        return ruling.ok ? undefined : ruling
      }
      case 'span':
        return match.beginSpan(value % 2 ? 'round' : 'bout')
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
    if (n === cells.length) chosen.lid = value % 2 === 0
    else if (n === cells.length + 1) chosen.holder = match.seats[value % (match.seats.length + 1)]
    else chosen[`c${n}`] = valueFor(match, at, n, value)
  }

  const values = (match: any, at: number, value: number, holder: string) => ({
    holder: value % 4 === 0 ? undefined : holder,
    ...Object.fromEntries(cellsOf(at).map(([n]) => [`c${n}`, valueFor(match, at, n, value + n)])),
  })

  function valueFor(match: any, at: number, n: number, value: number): unknown {
    const { kind } = (data.parts[at] as PartData).cells[n] as CellData
    const rows = tables.length === 0 ? [] : match.own[tables[n % tables.length] ?? ''].all()
    switch (kind) {
      case 'int':
      case 'latest':
        return value
      case 'num':
      case 'latest num':
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
