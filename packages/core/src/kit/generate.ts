/** True if code can be made from text here. On a page with a strict content policy it can't. */
export function generatesCode(): boolean {
  try {
    return generate<boolean>({}, 'true')
  } catch {
    return false
  }
}

/**
 * Returns what a text of code evaluates to. The text knows the members of `given` by their names. Nothing else in the
 * core makes code. Whatever does so keeps the same in plain code next to it, and generated rulebooks hold the two
 * equal.
 */
export function generate<Made>(given: object, text: string): Made {
  return new Function(...Object.keys(given), `'use strict'; return ${text}`)(...Object.values(given))
}
