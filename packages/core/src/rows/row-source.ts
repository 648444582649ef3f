import type { CellKind } from '../cells/index.ts'
import { escapeInPath } from '../cells/index.ts'
import { flat, generate } from '../kit/index.ts'
import type { PlacedCell, RowClass, RowLayout } from './row.ts'
import { RowIds } from './row-ids.ts'
import { isEdited, mayBeNothing, sharedCells } from './row-layout.ts'

/** The class of a part's rows as generated code. See row-closures.ts for the same without. */
export function generatedRow(layout: RowLayout): RowClass {
  const helpers = {
    firsts: layout.firsts,
    wrong: layout.wrong,
    unknown: layout.unknown,
    RowIds,
    escape: escapeInPath,
    flat,
    problems: byName(
      layout,
      ({ cell }) =>
        (value: unknown) =>
          cell.problem(value),
    ),
    forms: byName(layout, ({ form }) => form),
    refs: byName(layout, ({ reference }) => reference),
  }
  return generate(helpers, classSource(layout))
}

const byName = <T>({ each }: RowLayout, of: (cell: PlacedCell) => T): { readonly [cell: string]: T } =>
  Object.fromEntries(each.map((cell) => [cell.name, of(cell)]))

function classSource(layout: RowLayout): string {
  const { path, keyed, each, words, facets, byRow, drawn, wakes, isSeen } = layout
  const isNamed = drawn && isSeen
  const latest = each.filter(({ every }) => every !== undefined)
  const marks = Array.from({ length: words }, (_, word) => `this.$d${word} = 0`).join('; ')
  const members = (cells: readonly PlacedCell[]): string =>
    cells.map((c, at) => `'${at === 0 ? '' : ','}"${c.name}":' + ${valueText(c)}`).join(' + ') || `''`
  const cases = (text: (cells: readonly PlacedCell[]) => string): string =>
    facets.map((facet, at) => `case ${at}: ${text(sharedCells(each, facet))}`).join('\n')
  const idsSource = '(this.$ids === undefined ? (this.$ids = new RowIds()) : this.$ids)'
  const pathSource = `this.$where === '' ? (this.$where = flat('${path}' + ${keyed ? `'/' + escape(this.id)` : `''`})) : this.$where`
  const pathStart = `',{"op":"' + op + '","path":"' + path + '/'`

  return `class {
    constructor(store, id, number, given) {
      this.$store = store; this.$id = id; this.$number = number
      this.$live = true; this.$sent = false; this.$listed = false; this.$index = undefined${drawn ? '' : "; this.$where = ''"}${drawn ? '; this.$lanes = undefined; this.$names = undefined; this.$sentNames = undefined; this.$ids = undefined' : ''}
      ${marks}
      ${byRow ? 'this.$touched = false; this.$sights = []; this.$sentSights = []; this.$masks = []; this.$sentMasks = []' : ''}
      ${each.map((c) => `this._${c.name} = firsts.${c.name}${isEdited(c) ? `; this.$was_${c.name} = undefined` : ''}${c.every === undefined ? '' : `; this.$sent_${c.name} = -Infinity`}`).join('\n')}
      if (given !== undefined) { for (const name in given) if (!(name in firsts)) unknown(store, name); ${each.map(givenSource).join('\n')} }
      Object.preventExtensions(this)
    }
    get id() { return ${isNamed ? `this.$id === '' ? this.$store.identify(this) : this.$id` : `this.$id === '' ? String(this.$number) : this.$id`} }
    ${each.map((c) => accessors(c, path, byRow, drawn, wakes)).join('\n')}
    $restore(code, old) {
      ${drawn ? 'this.$lanes = undefined' : ''}
      switch (code >> 1) {
        ${each.map(restoreCase).join('\n')}
      }
    }
    $keep(code, old) {
      switch (code >> 1) {
        ${each
          .filter(({ seen }) => seen)
          .map((c) => `case ${c.at}: if (this._${c.name} === old) this.$d${c.word} &= ~${c.bit}; break`)
          .join('\n')}
      }
    }
    $cell(name) { return this[name] }
    $kept(name) { return this['_' + name] }
    $save() { return [${each.map((c) => `forms.${c.name}.save(this._${c.name})`).join(', ')}] }
    $load(values) {
      const store = this.$store
      ${each.map(loadSource).join('\n')}
      this.$sent = true
    }
    $reset() { ${each.map((c) => `this.${c.name} = firsts.${c.name}`).join('; ')} }
    $idUnder(name) { return ${drawn ? `${idsSource}.of(this, name)` : 'this.id'} }
    $pathUnder(name) { return ${drawn ? `${idsSource}.pathOf(this, name)` : pathSource} }
    $members(facet) { switch (facet) { ${cases((cells) => `return ${members(cells)}`)} } return '' }
    $edit(facet, op, path) {
      const p = ${pathStart}
      let s = ''
      switch (facet) { ${cases((cells) => `${cells.map(editSource).join('\n')}\nbreak`)} }
      return s
    }
    $merged(facet) {
      let s = ''
      switch (facet) { ${cases(
        (cells) =>
          `${cells
            .filter(({ merges }) => merges)
            .map(mergeSource)
            .join('\n')}\nbreak`,
      )} }
      return s
    }
    $drop(facet, path) {
      const op = 'remove'
      switch (facet) { ${cases((cells) => `return ${cells.map(({ name }) => `${pathStart} + '${name}"}'`).join(' + ') || `''`}`)} }
      return ''
    }
    $clean() { this.$listed = false; ${latest.length === 0 ? marks : cleanSource(latest, words)} }
    $text() { return ${members(each)} }
  }`
}

/** Clears the marks, except those of cells that wait: with them, the row stays for a later flush. */
function cleanSource(latest: readonly PlacedCell[], words: number): string {
  const each = Array.from({ length: words }, (_, word) => word)
  const keep = latest.map(
    ({ name, word, bit, every }) => `if (this.$d${word} & ${bit}) {
      if (latest.waits(this.$sent_${name}, ${every})) { kept${word} |= ${bit}; latest.until(this.$sent_${name} + ${every}) }
      else this.$sent_${name} = latest.now
    }`,
  )
  return `${each.map((word) => `let kept${word} = 0`).join('; ')}
    const { latest } = this.$store
    if (this.$live) { ${keep.join('\n')} }
    ${each.map((word) => `this.$d${word} = kept${word}`).join('; ')}
    if (${each.map((word) => `kept${word}`).join(' | ')}) latest.keep(this)`
}

/** Kinds whose values are kept as they are, and those of them that can be checked in place. */
const plainKinds: ReadonlySet<CellKind> = new Set(['int', 'amount', 'text', 'flag', 'choice', 'time', 'seat'])
const inPlace: { readonly [K in CellKind]?: string } = {
  int: '!Number.isSafeInteger(value)',
  flag: "typeof value !== 'boolean'",
  seat: "typeof value !== 'string'",
}

/** Keeps a written value that has passed its check. */
function keepSource({ name, cell, reference }: PlacedCell): string {
  if (reference !== undefined) return 'kept'
  const { kind } = cell.kind === 'maybe' && cell.of !== undefined ? cell.of : cell
  return plainKinds.has(kind) ? 'value' : `forms.${name}.keep(value)`
}

function checkSource({ name, cell, reference }: PlacedCell): string {
  const wrong = `wrong(store, '${name}', value)`
  const problem = `if (problems.${name}(value) !== undefined) ${wrong}`
  if (reference !== undefined)
    return `${problem}
      const kept = value === undefined ? undefined : refs.${name}.write(store, value)
      if (kept === undefined && value !== undefined) ${wrong}`
  const inner = cell.kind === 'maybe' ? cell.of : cell
  const test = inner?.least === undefined ? inPlace[inner?.kind ?? 'text'] : undefined
  if (test === undefined) return problem
  return cell.kind === 'maybe' ? `if (value !== undefined && ${test}) ${wrong}` : `if (${test}) ${wrong}`
}

const givenSource = (c: PlacedCell): string =>
  `{ const value = given.${c.name}; if (value !== undefined) { ${checkSource(c)}; this._${c.name} = ${keepSource(c)} }${
    c.cell.required ? ` else wrong(store, '${c.name}', value)` : ''
  } }`

const loadSource = (c: PlacedCell): string =>
  c.reference === undefined
    ? `{ const value = forms.${c.name}.load(values[${c.at}]); if (!(value === undefined && ${mayBeNothing(c.cell)}) && problems.${c.name}(value) !== undefined) wrong(store, '${c.name}', value); this._${c.name} = ${keepSource(c)} }`
    : `this._${c.name} = refs.${c.name}.form.keep(refs.${c.name}.form.load(values[${c.at}]))`

function accessors(c: PlacedCell, path: string, byRow: boolean, drawn: boolean, wakes: number): string {
  const { name } = c
  const code = c.at * 2
  const noted = c.seen
    ? `const dirty = this.$d${c.word}
      if (dirty & ${c.bit}) { store.again = true; store.undo.note(this, ${code + 1}, old) }
      else { store.fresh = true; store.undo.note(this, ${code}, old); ${isEdited(c) ? `this.$was_${name} = old; ` : ''}this.$d${c.word} = dirty | ${c.bit} }
      if (!this.$listed) { this.$listed = true; store.dirty.push(this) }`
    : `store.undo.note(this, ${code + 1}, old)`
  return `get ${name}() { return ${c.reference === undefined ? `this._${name}` : `refs.${name}.read(this.$store, this._${name})`} }
    set ${name}(value) {
      const old = this._${name}
      ${c.reference === undefined ? 'if (old === value) return' : ''}
      const store = this.$store
      if (!store.open) store.refuse('${path}/${name}')
      ${checkSource(c)}
      ${c.reference === undefined ? '' : 'if (old === kept) return'}
      ${noted}
      ${byRow ? 'if (!this.$touched) { this.$touched = true; store.touched.push(this) }' : ''}
      ${drawn ? 'this.$lanes = undefined' : ''}
      ${wakes === 0 ? '' : `store.woken |= ${wakes}`}
      this._${name} = ${keepSource(c)}
      ${c.indexed ? `if (this.$index !== undefined) this.$index.moved(this, '${name}', old)` : ''}
    }`
}

function restoreCase(c: PlacedCell): string {
  const moved = c.indexed
    ? `{ const was = this._${c.name}; this._${c.name} = old; if (this.$index !== undefined) this.$index.moved(this, '${c.name}', was) }`
    : `this._${c.name} = old`
  return `case ${c.at}: ${moved}; ${c.seen ? `if (!(code & 1)) this.$d${c.word} &= ~${c.bit}; ` : ''}break`
}

function editSource(c: PlacedCell): string {
  const whole = `s += p + '${c.name}","value":' + ${valueText(c)} + '}'`
  const change = isEdited(c)
    ? `s += forms.${c.name}.edit(path + '/${c.name}', this.$was_${c.name}, this._${c.name})`
    : whole
  if (c.merges) return `if (op === 'add') ${whole}`
  return `if (op === 'add') ${whole}; else if (${changedSource(c)}) ${change}`
}

const mergeSource = (c: PlacedCell): string =>
  `if (${changedSource(c)}) s += ',"${c.name}":' + ${valueText(c)}`

function changedSource({ name, word, bit, every }: PlacedCell): string {
  const waits = every === undefined ? '' : ` && !this.$store.latest.waits(this.$sent_${name}, ${every})`
  return `this.$d${word} & ${bit}${waits}`
}

function valueText({ name, cell, reference }: PlacedCell): string {
  const value = `this._${name}`
  if (reference !== undefined) return `forms.${name}.text(${value})`
  if (cell.kind === 'time') return `(${value} ?? null)`
  return cell.kind === 'int' || cell.kind === 'flag' || cell.kind === 'num'
    ? value
    : `forms.${name}.text(${value})`
}
