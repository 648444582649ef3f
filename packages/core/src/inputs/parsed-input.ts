import { InvalidInput, type Parsed } from '../cells/index.ts'
import { jsonText } from '../kit/index.ts'
import type { InputPlan } from '../plan/index.ts'
import { type Refusal, refuse } from '../rule/index.ts'

/** Returns the input as the record has it: parsed, or raw if it could not be parsed. */
export const cleanedInput = (raw: unknown, parsed: Parsed | undefined): unknown =>
  parsed === undefined || parsed instanceof InvalidInput ? raw : parsed

/**
 * Returns the text that tells two inputs with the same action id apart. It leaves rows out: when an input is sent
 * again, the sender may know them by other ids, or not see them any more.
 */
export function payloadText(
  plan: InputPlan | undefined,
  parsed: Parsed | undefined,
  text: string | undefined,
): string | undefined {
  if (plan === undefined || plan.rowCells.length === 0) return text
  const values = parsed instanceof InvalidInput ? parsed.given : parsed
  if (values === undefined) return text
  return jsonText({ ...values, ...Object.fromEntries(plan.rowCells.map((name) => [name, null])) })
}

export const refuseInput = ({ issues, missing }: InvalidInput): Refusal =>
  missing === undefined ? refuse('bad-input', { issues }) : refuse('no-such-target', { seat: missing })
