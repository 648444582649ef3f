/** Returns the same data, which nobody can write to. What can be written to is copied; it stays as it is. */
export function frozenCopy<V>(data: V): V {
  if (!isPlain(data)) return data
  const members = Object.entries(data)
  const copied = members.map(([name, member]) => [name, frozenCopy(member)] as const)
  if (Object.isFrozen(data) && copied.every(([, member], at) => member === members[at]?.[1])) return data
  const copy: object = Array.isArray(data) ? copied.map(([, member]) => member) : Object.fromEntries(copied)
  return Object.freeze(copy) as V & object
}

function isPlain(data: unknown): data is object {
  return (
    typeof data === 'object' &&
    data !== null &&
    (Array.isArray(data) || Object.getPrototypeOf(data) === Object.prototype)
  )
}
