import type { InputLine } from 'zinc-referee'

/** So much of a value or an input is printed. */
const WIDTH = 48

export const short = (text: string, width: number = WIDTH): string =>
  text.length > width ? `${text.slice(0, width - 1)}…` : text

/** An input in words, such as `otter's raft.chase {"quarry":"heron"}`. */
export function inputText({ seat, submit, report, reportAll, direct, input }: InputLine): string {
  const what = submit === undefined ? (report ?? reportAll ?? direct ?? '') : `${seat}'s ${submit}`
  return short(`${what} ${JSON.stringify(input)}`)
}

/** A ruling in words: accepted, or the codes of its refusals. */
export const rulingText = (code: unknown): string =>
  code === null || code === undefined
    ? 'accepted'
    : typeof code === 'string'
      ? code
      : short(JSON.stringify(code))
