/** A key as a step of a JSON Pointer (RFC 6901) inside a JSON text. */
export function escapeInPath(key: string): string {
  return JSON.stringify(key.replaceAll('~', '~0').replaceAll('/', '~1')).slice(1, -1)
}

/** Replaces the whole value. */
export const editWhole = (path: string, value: string): string =>
  `,{"op":"replace","path":"${path}","value":${value}}`
const add = (path: string, value: string): string => `,{"op":"add","path":"${path}","value":${value}}`
const remove = (path: string): string => `,{"op":"remove","path":"${path}"}`

/**
 * JSON Patch from one list of texts to another: what both have in common at their ends stays. The whole list if that
 * is shorter.
 */
export function editList(path: string, was: readonly string[], now: readonly string[]): string {
  const shorter = Math.min(was.length, now.length)
  let head = 0
  while (head < shorter && was[head] === now[head]) head++
  let tail = 0
  while (tail < shorter - head && was[was.length - 1 - tail] === now[now.length - 1 - tail]) tail++
  const gone = was.length - head - tail
  const come = now.slice(head, now.length - tail)
  const operations = come.map((text, at) =>
    at < gone ? editWhole(`${path}/${head + at}`, text) : add(`${path}/${head + at}`, text),
  )
  for (let at = come.length; at < gone; at++) operations.push(remove(`${path}/${head + come.length}`))
  return shortest(operations, editWhole(path, `[${now.join(',')}]`))
}

/** JSON Patch from one object's members to another's. The whole object if that is shorter. */
export function editMembers(
  path: string,
  was: ReadonlyMap<string, string>,
  now: ReadonlyMap<string, string>,
): string {
  const operations = [...was.keys()]
    .filter((key) => !now.has(key))
    .map((key) => remove(`${path}/${escapeInPath(key)}`))
  for (const [key, text] of now) {
    const before = was.get(key)
    if (before === text) continue
    const at = `${path}/${escapeInPath(key)}`
    operations.push(before === undefined ? add(at, text) : editWhole(at, text))
  }
  const whole = [...now].map(([key, text]) => `${JSON.stringify(key)}:${text}`)
  return shortest(operations, editWhole(path, `{${whole.join(',')}}`))
}

function shortest(operations: readonly string[], whole: string): string {
  const text = operations.join('')
  return text.length <= whole.length ? text : whole
}
