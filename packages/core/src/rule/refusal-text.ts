import type { Refusal } from './ruling.ts'

/** Texts of refusals, by code: what is wrong, and what to do. */
export interface RefusalTexts {
  readonly [code: string]: string
}

/** What each code of the engine means, and the fix. Rules bring texts for their own codes: see `refusals`. */
export const refusalTexts: RefusalTexts = {
  closed: 'The match is closed. Begin or join another.',
  'unknown-seat': 'No seat has this id. Join first, or fix the id.',
  left: 'This seat has left the bout. Join again to come back.',
  'id-reused': 'This action id was used for something else. Give each action an id of its own.',
  'stale-id': 'This action id is too old. Count on from the highest that you have used.',
  'unknown-action': 'The rulebook has no such action, fact or directive. Fix the name, as in rule.action.',
  'bad-input': 'The input does not fit. Fix what the issues name.',
  'no-such-target': 'Nothing that you can see has that id. Choose one from your view.',
  fault: 'A rule failed and nothing happened. The host finds why under this id in match.faults.',
  'fault-limit':
    'Actions of this seat failed too often in a row. Wait for the next bout; the host finds why in match.faults.',
  stale: 'This happened too long ago to count. Report it sooner, or let the fact be later.',
}

const PLACE = /\{(\w+)\}/g

/** Returns a text with its values in place of `{name}`. */
export function fillText(
  text: string,
  values: { readonly [name: string]: unknown },
  show: (value: unknown) => string = String,
): string {
  return text.replaceAll(PLACE, (_all, name: string) => show(values[name]))
}

/** Returns a refusal as a sentence with its fix, and its details in their places. A code without a text is shown as it is. */
export function explainRefusal({ code, details }: Refusal, texts: RefusalTexts): string {
  const text = refusalTexts[code] ?? texts[code] ?? `The rules of this mode refuse it: ${code}.`
  const issues = Array.isArray(details?.['issues']) ? ` ${details['issues'].join('; ')}.` : ''
  return fillText(text, details ?? {}) + issues
}
