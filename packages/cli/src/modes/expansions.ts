import type { AnyRulebook } from 'zinc-referee'

/** Returns the optional rules that are asked for: by name, or all of them. `beginMatch` refuses unknown ones. */
export const expansionsOf = ({ optional }: AnyRulebook, asked: readonly string[] = []): readonly string[] =>
  asked.includes('all') ? optional : asked

/** Returns the names in a text such as "fog,wind". */
export const namesIn = (text: string): readonly string[] =>
  text
    .split(',')
    .map((name) => name.trim())
    .filter(Boolean)
