import Table from 'cli-table3'
import colours from 'picocolors'

const quiet = {
  top: '',
  'top-mid': '',
  'top-left': '',
  'top-right': '',
  bottom: '',
  'bottom-mid': '',
  'bottom-left': '',
  'bottom-right': '',
  left: '',
  'left-mid': '',
  mid: '',
  'mid-mid': '',
  right: '',
  'right-mid': '',
  middle: '   ',
}

/** Returns rows in aligned columns under a header. Columns of numbers are aligned right. */
export function columns(header: readonly string[], rows: readonly (readonly string[])[]): string {
  const numeric = header.map(
    (_, at) => rows.length > 0 && rows.every((row) => /^-?[\d.:,]*$/.test(row[at] ?? '')),
  )
  const table = new Table({
    chars: quiet,
    style: { head: [], border: [], 'padding-left': 0, 'padding-right': 0 },
    colAligns: numeric.map((each) => (each ? 'right' : 'left')),
    head: header.map((each) => colours.dim(each)),
  })
  table.push(...rows.map((row) => [...row]))
  return table.toString().replaceAll(/ +$/gm, '')
}

/** Returns pairs of names and values, with the values aligned. */
export function pairs(rows: readonly (readonly [string, string])[]): string {
  const widest = Math.max(...rows.map(([name]) => name.length))
  return rows.map(([name, value]) => `${colours.dim(name.padEnd(widest))}   ${value}`).join('\n')
}

export const strong = (text: string): string => colours.bold(text)
export const dim = (text: string): string => colours.dim(text)
export const hidden = (): string => colours.yellow('hidden')

/** Returns a value as one line. */
export function plain(value: unknown): string {
  if (value === null || value === undefined) return '–'
  if (value === true) return 'yes'
  if (value === false) return 'no'
  if (value instanceof Set) return plain([...value])
  if (value instanceof Map) return plain([...value].map(([key, item]) => `${key} ${plain(item)}`))
  if (Array.isArray(value)) return value.length === 0 ? 'none' : value.map(plain).join(', ')
  if (typeof value !== 'object' || value === null) return String(value)
  const members = Object.entries(value).map(([name, member]) => `${name} ${plain(member)}`)
  return members.length === 0 ? 'none' : members.join(', ')
}

export function print(...blocks: readonly string[]): void {
  process.stdout.write(`${blocks.join('\n\n')}\n`)
}
export function printJson(value: unknown): void {
  process.stdout.write(`${JSON.stringify(value, null, 2)}\n`)
}
