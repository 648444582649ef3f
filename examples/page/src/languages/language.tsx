import { useState } from 'preact/hooks'
import { type Catalogue, catalogueOf } from 'zinc-referee/replica'
import { german } from './german.ts'

/** Languages besides the one in which rules are written. */
const others: { readonly [tag: string]: { readonly name: string; readonly catalogue: Catalogue } } = {
  de: { name: 'Deutsch', catalogue: german },
}
const KEPT = 'zinc-referee language'

export interface Language {
  readonly tag: string
  readonly catalogue: Catalogue
}

/** The texts of a rulebook in the language that was chosen; what that language lacks is in English. */
export function useLanguage(
  described: Parameters<typeof catalogueOf>[0],
): readonly [Language, (tag: string) => void] {
  const [tag, choose] = useState(localStorage.getItem(KEPT) ?? 'en')
  const [own, other] = [catalogueOf(described), others[tag]?.catalogue]
  const catalogue = {
    refusals: { ...own.refusals, ...other?.refusals },
    notices: { ...own.notices, ...other?.notices },
  }
  return [
    { tag, catalogue },
    (next) => {
      localStorage.setItem(KEPT, next)
      choose(next)
    },
  ]
}

/** Which language the texts of the rules are in. */
export function LanguageChoice({
  tag,
  choose,
}: {
  readonly tag: string
  readonly choose: (tag: string) => void
}) {
  return (
    <select
      aria-label="Language of the rules"
      value={tag}
      onChange={(event) => choose(event.currentTarget.value)}
    >
      <option value="en">English</option>
      {Object.entries(others).map(([each, { name }]) => (
        <option key={each} value={each}>
          {name}
        </option>
      ))}
    </select>
  )
}
