/** A setting as a form shows it: what JSON Schema says of it, and its value when it was asked for. */
export interface SettingField {
  /** `integer`, `number`, `boolean` or `string`; nothing, or another word, for what takes JSON. */
  readonly type?: string
  /** The values that it may have. */
  readonly enum?: readonly unknown[]
  /** The smallest number. */
  readonly minimum?: number
  /** The largest number. */
  readonly maximum?: number
  /** Its value; null for none. */
  readonly now: unknown
}
/** By rule, then by name. */
export type SettingFields = { readonly [rule: string]: { readonly [setting: string]: SettingField } }
