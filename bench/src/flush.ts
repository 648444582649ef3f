import { handWritten, naive } from './flush-rivals.js'
import { type Goal, type Row, ratio, row, timed } from './measure.js'
import { type Change, type World, type WorldSize, world } from './world.js'

const VIEWERS_16 = { seats: 60, viewers: 16, crates: 0, rafts: 20, pushes: 0 }
const VIEWERS_64 = { seats: 100, viewers: 64, crates: 100, rafts: 20, pushes: 20 }
const VIEWERS_500 = { seats: 500, viewers: 500, crates: 1500, rafts: 100, pushes: 200 }

/** Times only the sending; the changes are made outside of the time. */
function sending(made: World, times: number, send: (changes: readonly Change[]) => number): () => number {
  return () => {
    let ms = 0
    let sent = 0
    for (let n = 0; n < times; n++) {
      const changes = made.change()
      ms += timed(() => {
        sent += send(changes)
      })
      made.flush()
    }
    if (sent === 0) throw new Error('nothing was sent')
    return ms
  }
}

/** A flush to viewers, each with its own filtered patch, against one unfiltered JSON.stringify of the same changes. */
function againstFloor(name: string, goal: Goal, size: WorldSize, times: number): Row {
  const made = world(size)
  const ours = sending(made, times, () => made.flush())
  const floor = sending(made, times, (changes) => JSON.stringify(changes).length)
  return ratio(name, goal, ours, floor)
}

export function flushRows(): Row[] {
  const made = world(VIEWERS_64)
  const ours = sending(made, 10, () => made.flush())
  const diffs = naive(made)
  return [
    againstFloor('flush16/floor', { most: 1.5 }, VIEWERS_16, 40),
    againstFloor('flush64/floor', { most: 1.5 }, VIEWERS_64, 20),
    againstFloor('flush500/floor', { most: 4 }, VIEWERS_500, 4),
    ratio(
      'hand64/flush64',
      { least: 15 },
      sending(made, 10, (changes) => handWritten(made, changes)),
      ours,
      31,
    ),
    ratio('naive64/flush64', { least: 300 }, sending(made, 10, diffs), ours, 7),
    bytes(),
    manyRows(),
  ]
}

/** What a viewer is sent, against the least that a diff of its own view needs. */
function bytes(): Row {
  const made = world(VIEWERS_64)
  const diffs = naive(made)
  let [sent, least] = [0, 0]
  for (let n = 0; n < 20; n++) {
    least += diffs(made.change())
    sent += made.flush()
  }
  return row('bytes64/minimal', sent / least, '×', { most: 1.05 })
}

/** The same changes among many rows and among few. */
function manyRows(): Row {
  const size = { seats: 1, viewers: 1, rafts: 0, pushes: 40 }
  const [many, few] = [world({ ...size, crates: 10_000 }), world({ ...size, crates: 100 })]
  return ratio(
    'flush10000/flush100',
    { most: 1.3 },
    sending(many, 60, () => many.flush()),
    sending(few, 60, () => few.flush()),
  )
}
