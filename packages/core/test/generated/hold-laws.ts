import { expect } from 'vitest'
import { resumeMatch } from 'zinc-referee'
import { applyPatch } from 'zinc-referee/replica'
import { ViewCopies } from 'zinc-referee/testing'
import { buildBook } from './build-book.ts'
import type { BookData, Move } from './describe-book.ts'
import { expectCurrent } from './for-all.ts'
import { play, setTable, VIEWERS } from './play-history.ts'

/** Throws where a law does not hold in these histories of a generated rulebook. */
export function holdLaws(data: BookData, histories: readonly (readonly Move[])[]): void {
  const [compiled, closures] = [buildBook(data, true), buildBook(data, false)]
  for (const moves of histories) {
    const [one, other] = [setTable(compiled), setTable(closures, false)]
    const rulings: any[] = []
    play(one, moves, (_move, step) => {
      one.flush()
      expectCurrent(one)
      const before = one.match.hash()
      const ruling = step()
      rulings.push(ruling)
      if (ruling.ok) return
      expect(one.match.hash()).toBe(before)
      expect(one.flush()).toEqual([])
    })
    play(other, moves, (_move, step) => {
      other.flush()
      const ruling = step()
      expect(ruling).toEqual(rulings.shift())
      if (!ruling.ok) other.flush()
    })
    expectCurrent(one)
    for (const viewer of VIEWERS) expect(other.sentTo(viewer)).toBe(one.sentTo(viewer))
    expect(other.match.hash()).toBe(one.match.hash())
    const unexpected = one.match.faults.filter(
      ({ error }: any) => !/^(fell over|There is no)/.test(error.message),
    )
    expect(unexpected.map(({ error }: any) => String(error))).toEqual([])

    // One kind of rows goes on where the other was.
    const restored: any = resumeMatch(closures, JSON.parse(JSON.stringify(one.match.snapshot())))
    expect(restored.hash()).toBe(one.match.hash())
    const resumed = new ViewCopies(restored, applyPatch)
    for (const viewer of VIEWERS) resumed.addViewer(viewer)
    const later = one.match.now + 500
    for (const match of [one.match, restored]) {
      match.direct('maze.act', moves[0]?.deeds)
      match.advanceTo(later)
    }
    expect(restored.hash()).toBe(one.match.hash())
    resumed.flush()
    expect(resumed.differences()).toEqual([])
    for (const viewer of VIEWERS) expect(restored.view(viewer)).toEqual(one.match.view(viewer))
    one.match.close()
    expect(one.replay().differs).toBeUndefined()
  }
}
