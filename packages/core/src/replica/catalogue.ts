import type { Refusal } from '../rule/index.ts'
import { fillText, refusalTexts } from '../rule/index.ts'
import type { Notice } from '../sight/index.ts'

/**
 * The texts of refusals and notices in one language, by code and by event. `{seat}` in a text stands for that detail
 * of a refusal, or that cell of a notice.
 */
export interface Catalogue {
  /** By code, such as `not-your-turn`. */
  readonly refusals: { readonly [code: string]: string }
  /** By event, such as `stones.laid`. */
  readonly notices: { readonly [event: string]: string }
}
/** What a catalogue needs of the description of a rulebook. */
interface Described {
  readonly rules: readonly {
    readonly name: string
    readonly refusals?: { readonly [code: string]: string }
    readonly events: { readonly [event: string]: { readonly says?: string } }
  }[]
}

/** Returns the texts that the rules of a rulebook bring, and those of the engine. */
export function catalogueOf({ rules }: Described): Catalogue {
  const notices = rules.flatMap(({ name, events }) =>
    Object.entries(events).flatMap(([event, { says }]) =>
      says === undefined ? [] : [[`${name}.${event}`, says] as const],
    ),
  )
  const refusals = rules.map((rule) => rule.refusals ?? {}).toReversed()
  return { refusals: Object.assign({}, ...refusals, refusalTexts), notices: Object.fromEntries(notices) }
}

/** Returns what a catalogue says of a refusal, or nothing if it has no text for it. */
export function refusalIn(
  { refusals }: Catalogue,
  { code, details = {} }: Pick<Refusal, 'code' | 'details'>,
  show: (value: unknown) => string = String,
): string | undefined {
  const text = refusals[code]
  return text === undefined ? undefined : fillText(text, details, show)
}

/** Returns what a catalogue says of a notice, or nothing if it has no text for it. `show`: a cell as players read it. */
export function noticeIn(
  { notices }: Catalogue,
  { name, cells }: Pick<Notice, 'name' | 'cells'>,
  show: (value: unknown) => string = String,
): string | undefined {
  const text = notices[name]
  return text === undefined ? undefined : fillText(text, cells, show)
}
