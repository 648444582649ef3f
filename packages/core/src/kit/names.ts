import { RefereeError } from './errors.ts'

const usable = /^[A-Za-z][A-Za-z0-9]*(-[A-Za-z0-9]+)*$/
const taken = new Set([
  'id',
  'constructor',
  'toString',
  'valueOf',
  'hasOwnProperty',
  'isPrototypeOf',
  'toLocaleString',
  'propertyIsEnumerable',
])

/** Throws unless the name can be used in paths, types and compiled rows. */
export function assertName(what: string, name: string): void {
  if (!usable.test(name) || taken.has(name)) throw new RefereeError('ZR_RULE_BAD_NAME', { what, name })
}

/** Cells are members of compiled rows, so their names are plain identifiers. */
export function assertCellName(name: string): void {
  assertName('cell', name)
  if (name.includes('-')) throw new RefereeError('ZR_RULE_BAD_NAME', { what: 'cell', name })
}
