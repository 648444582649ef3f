// Sets and maps in cells are never changed in place: the cell gets a new one.

/** Returns the set with this item added. */
export const withItem = <V>(items: ReadonlySet<V>, item: V): ReadonlySet<V> => new Set(items).add(item)

/** Returns the set without this item. */
export const withoutItem = <V>(items: ReadonlySet<V>, item: V): ReadonlySet<V> => {
  const rest = new Set(items)
  rest.delete(item)
  return rest
}

/** Returns the map with this value under the key, or without the key if the value is nothing. */
export const withEntry = <V>(
  entries: ReadonlyMap<string, V>,
  key: string,
  value: V | undefined,
): ReadonlyMap<string, V> => {
  const all = new Map(entries)
  if (value === undefined) all.delete(key)
  else all.set(key, value)
  return all
}
