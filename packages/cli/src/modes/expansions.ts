import type { AnyRulebook } from 'zinc-referee'

/** The optional rules that are asked for: by name, or all of them. Unknown ones are refused where the match begins. */
export const expansionsOf = ({ optional }: AnyRulebook, asked: readonly string[] = []): readonly string[] =>
  asked.includes('all') ? optional : asked

/** "fog,wind" as names. */
export const namesIn = (text: string): readonly string[] =>
  text
    .split(',')
    .map((name) => name.trim())
    .filter(Boolean)
