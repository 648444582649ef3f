import { CommandError } from '../errors.ts'

/** A setting, and the values that it is rehearsed with. */
export interface Varied {
  /** The rule, and the setting with a dot between. */
  readonly name: string
  readonly values: readonly unknown[]
}

/** Reads a setting with its values, such as 'rounds.length=60000,120000'. @throws CommandError for anything else */
export function varied(text: string): Varied {
  const [, name, values = ''] = /^([\w-]+\.[\w-]+)=(.+)$/s.exec(text) ?? []
  if (name !== undefined)
    try {
      const read: unknown = JSON.parse(`[${values}]`)
      if (Array.isArray(read) && read.length > 0) return { name, values: read }
    } catch {
      // Words need no quotes.
      if (/^[\w-]+(,[\w-]+)*$/.test(values)) return { name, values: values.split(',') }
    }
  throw new CommandError(
    `--vary takes a setting and its values, such as rounds.length=60000,120000, and '${text}' is not that.`,
  )
}

/** Returns the settings with one of the values. */
export function settingsWith(settings: object, { name }: Varied, value: unknown): object {
  const [rule = '', setting = ''] = name.split('.')
  const own: object = Object(Object.entries(settings).find(([each]) => each === rule)?.[1])
  return { ...settings, [rule]: { ...own, [setting]: value } }
}
