import { render } from 'preact'
import '../../page/src/fair.css'
import { timeline } from './data.ts'
import './desk.css'
import { Review } from './review.tsx'

const main = document.getElementById('desk')
if (main !== null) {
  render(<p class="opening">The record is played …</p>, main)
  timeline().then(
    (record) => {
      document.title = `Looking back: ${record.rulebook}`
      render(<Review record={record} />, main)
    },
    (error: unknown) =>
      render(<p class="problem">{error instanceof Error ? error.message : String(error)}</p>, main),
  )
}
