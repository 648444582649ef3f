/** Whether this place lets code be made from text: a page with a strict content policy does not. */
export function generatesCode(): boolean {
  try {
    return generate<boolean>({}, 'true')
  } catch {
    return false
  }
}

/**
 * Returns what a text of code evaluates to, in which the members of `given` are known by their names. Nothing else in
 * the core makes code: what does, keeps the same in plain code beside it, and generated rulebooks hold the two equal.
 */
export function generate<Made>(given: object, text: string): Made {
  return new Function(...Object.keys(given), `'use strict'; return ${text}`)(...Object.values(given))
}
