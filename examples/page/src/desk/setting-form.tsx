import type { SettingField, SettingFields } from '@zinc-referee/venue/client'
import { useState } from 'preact/hooks'

/** The settings of a rule, as they are now, to be changed. Only what differs is sent. */
export function SettingForm({
  settings,
  set,
}: {
  readonly settings: SettingFields
  readonly set: (rule: string, changed: object) => Promise<boolean>
}) {
  const rules = Object.keys(settings)
  const [chosen, choose] = useState(rules[0] ?? '')
  const [since, setSince] = useState<{ readonly [rule: string]: object }>({})
  const [wrong, setWrong] = useState('')
  const now = (name: string, field: SettingField): unknown =>
    Object.entries(since[chosen] ?? {}).find(([each]) => each === name)?.[1] ?? field.now
  const fields = Object.entries(settings[chosen] ?? {})
  const submit = async (form: HTMLFormElement): Promise<void> => {
    const changed: { [name: string]: unknown } = {}
    for (const [name, field] of fields) {
      const value = valueIn(form, name, field)
      if (value === undefined) return setWrong(`${name} is not JSON. Write a text in quotes, as in "short".`)
      if (JSON.stringify(value) !== JSON.stringify(now(name, field))) changed[name] = value
    }
    if (Object.keys(changed).length === 0) return setWrong('Nothing differs from what is set.')
    setWrong('')
    if (await set(chosen, changed)) setSince({ ...since, [chosen]: { ...since[chosen], ...changed } })
  }
  return (
    <form
      class="order"
      onSubmit={(event) => {
        event.preventDefault()
        void submit(event.currentTarget)
      }}
    >
      <label>
        Settings of
        <select value={chosen} onChange={(event) => choose(event.currentTarget.value)}>
          {rules.map((rule) => (
            <option key={rule}>{rule}</option>
          ))}
        </select>
      </label>
      {fields.map(([name, field]) => (
        <Field key={`${chosen} ${name}`} name={name} field={field} now={now(name, field)} />
      ))}
      <button type="submit">Set</button>
      {wrong !== '' && (
        <p class="said" role="alert">
          {wrong}
        </p>
      )}
    </form>
  )
}

function Field({
  name,
  field,
  now,
}: {
  readonly name: string
  readonly field: SettingField
  readonly now: unknown
}) {
  const values = valuesOf(field)
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: each branch is the control
    <label>
      {name}
      {values !== undefined ? (
        <select name={name} defaultValue={JSON.stringify(now)}>
          {values.map((value) => (
            <option key={String(value)} value={JSON.stringify(value)} selected={value === now}>
              {wordFor(value)}
            </option>
          ))}
        </select>
      ) : isNumber(field) ? (
        <input
          name={name}
          type="number"
          required
          step={field.type === 'integer' ? 1 : 'any'}
          min={field.minimum}
          max={field.maximum}
          defaultValue={String(now)}
        />
      ) : (
        <input
          name={name}
          required
          defaultValue={field.type === 'string' ? String(now) : JSON.stringify(now)}
        />
      )}
    </label>
  )
}

const isNumber = ({ type }: SettingField): boolean => type === 'integer' || type === 'number'
const valuesOf = ({ type, enum: values }: SettingField): readonly unknown[] | undefined =>
  type === 'boolean' ? [true, false] : values
const wordFor = (value: unknown): string =>
  typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value)

/** Returns what a field holds; undefined if it is not JSON. */
function valueIn(form: HTMLFormElement, name: string, field: SettingField): unknown {
  const text = String(new FormData(form).get(name))
  if (isNumber(field)) return Number(text)
  if (field.type === 'string' && field.enum === undefined) return text
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}
