import { InvalidInput, type Parsed } from '../cells/index.ts'
import { jsonText } from '../kit/index.ts'
import type { InputPlan } from '../plan/index.ts'
import { type Refusal, refuse } from '../rule/index.ts'

/** What is recorded of an input: as it was parsed, or raw where it could not be. */
export const cleanedInput = (raw: unknown, parsed: Parsed | undefined): unknown =>
  parsed === undefined || parsed instanceof InvalidInput ? raw : parsed

/**
 * What tells one input from another under the same action id. Rows are left out: by when an input is sent again, its
 * sender may know them by other ids, or not see them any more.
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
