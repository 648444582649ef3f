/** Values by name. It caches the last lookup, because handlers ask for the same name again and again. */
export class Named<T> {
  private readonly byName: Map<string, T>
  private lastName = ''
  private last: T | undefined

  constructor(entries: Iterable<readonly [name: string, thing: T]>) {
    this.byName = new Map([...entries].map(([name, thing]) => [interned(name), thing]))
  }

  get(name: string): T | undefined {
    return name === this.lastName ? this.last : this.find(name)
  }

  values(): Iterable<T> {
    return this.byName.values()
  }

  keys(): Iterable<string> {
    return this.byName.keys()
  }

  [Symbol.iterator](): Iterator<[name: string, thing: T]> {
    return this.byName[Symbol.iterator]()
  }

  private find(name: string): T | undefined {
    const found = this.byName.get(name)
    if (found === undefined) return undefined
    this.lastName = name
    this.last = found
    return found
  }
}

/** The same text as the engine keeps it for names in source code: comparing the two compares no letters. */
function interned(name: string): string {
  return Object.keys({ [name]: true })[0] ?? name
}
