/** Returns where on a map of this size was clicked, in its units. */
export function clickedAt(
  event: MouseEvent,
  { width, height }: { readonly width: number; readonly height: number },
): { readonly x: number; readonly y: number } {
  const box = (event.currentTarget as Element).getBoundingClientRect()
  const part = (at: number, from: number, size: number): number =>
    Math.max(0, Math.min(1, (at - from) / size))
  return {
    x: Math.round(part(event.clientX, box.left, box.width) * width),
    y: Math.round(part(event.clientY, box.top, box.height) * height),
  }
}
