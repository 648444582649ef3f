import { assertCellName, flat, RefereeError } from '../kit/index.ts'
import { type Audience, allViewers, only } from './audience.ts'
import { type AnyCell, type Cells, shown } from './cell.ts'
import type { Policies } from './parts.ts'
import type { Store } from './store.ts'
import { SETTLED } from './undo.ts'

/** What the engine asks of a row of any table; the cells themselves are accessors that the compiler adds. */
export interface CompiledRow {
  readonly id: string
  /** The public id, or '' for rows that nobody sees. */
  $id: string
  /** Never sent: references and the hash use it. */
  readonly $number: number
  $live: boolean
  /** Whether those who may see it have been told of it. */
  $told: boolean
  $listed: boolean
  $dirty: number
  $restore(code: number, old: unknown): void
  $keep(code: number, old: unknown): void
  $cell(name: string): unknown
  /** All values in the order of the cells, null for nothing; and back, told of, for a match that goes on from a snapshot. */
  $save(): unknown[]
  $load(values: readonly unknown[]): void
  $reset(): void
  /** The members that a reach sees, as the inside of a JSON object. */
  $everyone(): string
  $owner(): string
  /** Hands the operations since the last flush to those who may see them. */
  $tell(out: Out): void
  $text(): string
  readonly $shape: RowShape
}
/** A row whose sight depends on itself: by facet, who sees it since the last step, and as the viewers were told. */
export interface PolicyRow extends CompiledRow {
  $touched: boolean
  $sights: readonly Audience[]
  $toldSights: readonly Audience[]
  $toldId: string
  $where: string
  /** A facet's members, and operations on its cells. */
  $members(facet: number): string
  $edit(facet: number, op: 'add' | 'replace', bits: number): string
  $drop(facet: number): string
}
/** Cells of the same sight. */
export interface Facet {
  readonly bits: number
  readonly names: readonly string[]
  readonly policy: (row: CompiledRow) => Audience
}
export type RowClass = new (store: Store, id: string, number: number, given?: object) => CompiledRow

/** Where a row's operations go, each text beginning with a comma. */
export interface Out {
  everyone(operations: string): void
  only(seat: string, operations: string): void
}

export interface RowShape {
  /** Where its rows stand in a view, such as `/vitals/body`. */
  readonly path: string
  readonly keyed: boolean
  readonly cells: Cells
  readonly RowOf: RowClass
  readonly seenByEveryone: boolean
  readonly seenByOwner: boolean
  /** Where sight depends on the row; then the two marks above do not count. */
  readonly facets: readonly Facet[] | undefined
  /** The bits of the settle handlers that a change here wakes. */
  readonly wakes: number
}

/** What a table says of its rows' sight beside its cells. */
export interface RowSight {
  readonly owner?: string
  readonly policies?: Policies
}

const MOST_CELLS = 30
/** In an undo entry: whether the cell was already dirty, so that a step taken back emits nothing. */
const WAS_DIRTY = SETTLED

/**
 * Compiles the class of a part's rows: accessors with undo and dirty marks, and the text of its operations.
 * Once per rulebook, never per match, so that all matches share one shape.
 */
export function compileRow(
  path: string,
  keyed: boolean,
  cells: Cells,
  wakes: number,
  sight: RowSight = {},
): RowShape {
  const names = Object.keys(cells)
  for (const name of names) assertCellName(name)
  if (names.length > MOST_CELLS)
    throw new RefereeError('ZR_RULE_TOO_MANY_CELLS', { part: path, most: MOST_CELLS })
  const byRow = sight.owner !== undefined || sight.policies !== undefined
  const each = names.map((name, at) => {
    const cell = cells[name] as AnyCell
    return {
      name,
      cell,
      at,
      bit: 1 << at,
      seen: byRow || cell.reach === 'everyone' || cell.reach === 'owner',
    }
  })
  const all = each.filter(({ cell }) => cell.reach === 'everyone')
  const owned = each.filter(({ cell }) => cell.reach === 'owner')
  const facets = byRow ? facetsOf(each, sight) : undefined
  const bitsOf = (some: typeof each): number => some.reduce((bits, { bit }) => bits | bit, 0)
  const valueText = ({ name, cell }: { name: string; cell: AnyCell }): string =>
    cell.kind === 'int' || cell.kind === 'flag' || cell.kind === 'num'
      ? `this._${name}`
      : cell.kind === 'time'
        ? `(this._${name} ?? null)`
        : `text(this._${name})`
  const members = (some: typeof each): string =>
    some.length === 0
      ? `''`
      : some.map((c, i) => `'${i === 0 ? '' : ','}"${c.name}":' + ${valueText(c)}`).join(' + ')
  const replaces = (some: typeof each): string =>
    some.map((c) => `if (bits & ${c.bit}) s += p + '${c.name}","value":' + ${valueText(c)} + '}'`).join('; ')
  const check = ({ name, cell }: { name: string; cell: AnyCell }): string =>
    cell.kind === 'int' && cell.least === undefined
      ? `if (!Number.isSafeInteger(value)) wrong(store, '${name}', value)`
      : cell.kind === 'flag'
        ? `if (value !== true && value !== false) wrong(store, '${name}', value)`
        : `if (troubles.${name}(value) !== undefined) wrong(store, '${name}', value)`

  const source = `'use strict'; return class {
    constructor(store, id, number, given) {
      this.$store = store; this.$id = id; this.$number = number
      this.$live = true; this.$told = false; this.$listed = false; this.$dirty = 0; this.$where = ''
      ${byRow ? 'this.$touched = false; this.$sights = []; this.$toldSights = []; this.$toldId = id' : ''}
      ${each.map((c) => `this._${c.name} = firsts.${c.name}`).join('; ')}
      if (given !== undefined) { ${each
        .map(
          (c) =>
            `{ const value = given.${c.name}; if (value !== undefined) { ${check(c)}; this._${c.name} = ${kept(c.cell)} } else if (${c.cell.required}) wrong(store, '${c.name}', value) }`,
        )
        .join('\n')} }
    }
    get id() { return this.$id === '' ? String(this.$number) : this.$id }
    ${each
      .map(
        (c) => `get ${c.name}() { return this._${c.name} }
    set ${c.name}(value) {
      const old = this._${c.name}
      if (old === value) return
      const store = this.$store
      if (!store.open) store.refuse('${path}/${c.name}')
      ${check(c)}
      ${
        c.seen
          ? `const dirty = this.$dirty
      if (dirty & ${c.bit}) { store.again = true; store.undo.note(this, ${c.at | WAS_DIRTY}, old) } else store.undo.note(this, ${c.at}, old)
      this.$dirty = dirty | ${c.bit}
      if (!this.$listed) { this.$listed = true; store.dirty.push(this) }
      ${byRow ? 'if (!this.$touched) { this.$touched = true; store.touched.push(this) }' : ''}`
          : `store.undo.note(this, ${c.at | WAS_DIRTY}, old)`
      }
      ${wakes === 0 ? '' : `store.woken |= ${wakes}`}
      this._${c.name} = ${kept(c.cell)}
    }`,
      )
      .join('\n')}
    $restore(code, old) {
      switch (code & 63) {
        ${each.map((c) => `case ${c.at}: this._${c.name} = old; ${c.seen ? `if (!(code & ${WAS_DIRTY})) this.$dirty &= ~${c.bit};` : ''} break`).join('\n')}
      }
    }
    $keep(code, old) {
      switch (code) {
        ${each
          .filter((c) => c.seen)
          .map((c) => `case ${c.at}: if (this._${c.name} === old) this.$dirty &= ~${c.bit}; break`)
          .join('\n')}
      }
    }
    $cell(name) { return this[name] }
    $save() { return [${each.map((c) => `this._${c.name} ?? null`).join(', ')}] }
    $load(values) {
      const store = this.$store
      ${each.map((c) => `{ const value = values[${c.at}] ?? ${optional(c.cell) ? 'undefined' : 'null'}; if (troubles.${c.name}(value) !== undefined) wrong(store, '${c.name}', value); this._${c.name} = ${kept(c.cell)} }`).join('\n')}
      this.$told = true
    }
    $reset() { ${each.map((c) => `this.${c.name} = firsts.${c.name}`).join('; ')} }
    $path() { return this.$where === '' ? (this.$where = flat('${path}' + ${keyed ? `'/' + escape(this.id)` : `''`})) : this.$where }
    $everyone() { return ${members(all)} }
    $owner() { return ${members(owned)} }
    $replaceEveryone(op, bits) { const p = ',{"op":"' + op + '","path":"' + this.$path() + '/'; let s = ''; ${replaces(all)}; return s }
    $replaceOwner(op, bits) { const p = ',{"op":"' + op + '","path":"' + this.$path() + '/'; let s = ''; ${replaces(owned)}; return s }
    $tell(out) {
      const bits = this.$dirty
      this.$dirty = 0
      this.$listed = false
      if (this.$live && this.$told) {
        ${all.length > 0 ? `if (bits & ${bitsOf(all)}) out.everyone(this.$replaceEveryone('replace', bits))` : ''}
        ${owned.length > 0 ? `if (bits & ${bitsOf(owned)}) out.only(this.id, this.$replaceOwner('replace', bits))` : ''}
      } else if (this.$live) {
        this.$told = true
        ${all.length > 0 ? `out.everyone(',{"op":"add","path":"' + this.$path() + '","value":{' + this.$everyone() + '}}')` : ''}
        ${owned.length === 0 ? '' : all.length > 0 ? `out.only(this.id, this.$replaceOwner('add', ${bitsOf(owned)}))` : `out.only(this.id, ',{"op":"add","path":"' + this.$path() + '","value":{' + this.$owner() + '}}')`}
      } else if (this.$told) {
        this.$told = false
        ${all.length > 0 ? 'out.everyone' : 'out.only'}(${all.length > 0 ? '' : 'this.id, '}',{"op":"remove","path":"' + this.$path() + '"}')
      }
    }
    $text() { return ${members(each)} }
    ${facets === undefined ? '' : facetSource(facets.map(({ bits }) => each.filter(({ bit }) => (bits & bit) !== 0)))}
  }`

  function facetSource(some: (typeof each)[]): string {
    const cases = (text: (cells: typeof each) => string): string =>
      some.map((cells, at) => `case ${at}: ${text(cells)}`).join('; ')
    return `$members(facet) { switch (facet) { ${cases((cells) => `return ${members(cells)}`)} } }
    $edit(facet, op, bits) { const p = ',{"op":"' + op + '","path":"' + this.$path() + '/'; let s = ''; switch (facet) { ${cases((cells) => `${replaces(cells)}; return s`)} } }
    $drop(facet) { const p = ',{"op":"remove","path":"' + this.$path() + '/'; switch (facet) { ${cases((cells) => `return ${cells.map(({ name }) => `p + '${name}"}'`).join(' + ')}`)} } }`
  }

  const firsts = Object.fromEntries(each.map(({ name, cell }) => [name, cell.initial]))
  const troubles = Object.fromEntries(
    each.map(({ name, cell }) => [name, (value: unknown) => cell.trouble(value)]),
  )
  const wrong = (store: Store, name: string, value: unknown): never =>
    store.fail(
      new RefereeError('ZR_STATE_BAD_VALUE', {
        cell: `${path}/${name}`.slice(1).replaceAll('/', '.'),
        says: cells[name]?.trouble(value) ?? `was left out (${shown(value)})`,
      }),
    )
  const RowOf = new Function('firsts', 'troubles', 'wrong', 'text', 'escape', 'flat', source)(
    firsts,
    troubles,
    wrong,
    valueAsJson,
    escapeInPath,
    flat,
  ) as RowClass
  const shape: RowShape = {
    path,
    keyed,
    cells,
    RowOf,
    seenByEveryone: !byRow && all.length > 0,
    seenByOwner: !byRow && owned.length > 0,
    facets,
    wakes,
  }
  Object.defineProperty(RowOf.prototype, '$shape', { value: shape })
  return shape
}

interface PlacedCell {
  readonly name: string
  readonly cell: AnyCell
  readonly bit: number
}

/** Everyone's cells, the owner's, and those of each policy. */
function facetsOf(each: readonly PlacedCell[], { owner, policies = {} }: RowSight): Facet[] {
  const facet = (cells: readonly PlacedCell[], policy: Facet['policy']): Facet[] =>
    cells.length === 0
      ? []
      : [
          {
            bits: cells.reduce((bits, { bit }) => bits | bit, 0),
            names: cells.map(({ name }) => name),
            policy,
          },
        ]
  const fixed = each.filter(({ name }) => policies[name] === undefined)
  const written = [...new Set(Object.values(policies))]
  return [
    ...facet(
      fixed.filter(({ cell }) => cell.reach === 'everyone'),
      () => allViewers,
    ),
    ...facet(
      fixed.filter(({ cell }) => cell.reach === 'owner'),
      (row) => only(row.$cell(owner ?? '') as string | undefined),
    ),
    ...written.flatMap((policy) =>
      facet(
        each.filter(({ name }) => policies[name] === policy),
        policy as Facet['policy'],
      ),
    ),
  ]
}

/** Whether a cell may hold nothing; a seat's or a row's holds none until it is written. */
const optional = ({ kind, initial }: AnyCell): boolean =>
  kind === 'maybe' || kind === 'time' || initial === undefined

const kept = (cell: AnyCell): string =>
  cell.kind === 'list'
    ? 'Object.freeze([...value])'
    : cell.kind === 'num'
      ? '(value === 0 ? 0 : value)'
      : 'value'
const valueAsJson = (value: unknown): string => (value === undefined ? 'null' : JSON.stringify(value))

/** A key as a step of a JSON Pointer (RFC 6901) inside a JSON text. */
export function escapeInPath(key: string): string {
  return JSON.stringify(key.replaceAll('~', '~0').replaceAll('/', '~1')).slice(1, -1)
}
