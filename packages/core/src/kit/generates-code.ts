/** Whether this place lets code be made from text: a page with a strict content policy does not. */
export function generatesCode(): boolean {
  try {
    return new Function('return true')()
  } catch {
    return false
  }
}
