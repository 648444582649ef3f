/** The page of a circuit: its venues, what they carry, how quickly they commit, and what happened. It asks `/circuit` again and again. */
export const circuitPage = `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Circuit</title>
<style>
:root { color-scheme: light dark; --ground: #f4f1ea; --ink: #141b20; --soft: #5b625f; --line: #b9a98b; --bar: #3f6b4a; --bad: #b0573a; --warn: #7a5200 }
@media (prefers-color-scheme: dark) { :root { --ground: #141b20; --ink: #f4f1ea; --soft: #b9b4a8; --line: #4a5157; --bar: #7fae8b; --bad: #e08a6c; --warn: #e0a030 } }
body { margin: 0 auto; padding: 1rem; max-width: 72rem; background: var(--ground); color: var(--ink); font: 1rem/1.45 system-ui, sans-serif; font-variant-numeric: tabular-nums }
h1 { font-size: 1.5rem; margin: 0 } h2 { font-size: 1.1rem; margin: 1.5rem 0 .5rem }
p { margin: .25rem 0; color: var(--soft) }
.wide { overflow-x: auto }
table { border-collapse: collapse; width: 100% } th, td { text-align: left; padding: .35rem .75rem .35rem 0; border-bottom: 1px solid var(--line); white-space: nowrap }
th { font-weight: 600; color: var(--soft) } td.n, th.n { text-align: right } #lately td.n { width: 3.5rem }
meter { width: 8rem; height: .8rem; accent-color: var(--bar) }
.bad { color: var(--bad); font-weight: 600 } .warn { color: var(--warn) }
form { margin: 1rem 0 } input, button { font: inherit; padding: .3rem .6rem }
:focus-visible { outline: 3px solid var(--bar); outline-offset: 2px }
</style>
<h1>Circuit</h1>
<p id="sum" role="status">Asking the venues …</p>
<form id="admission" hidden><label>Admission of an operator <input name="token" autocomplete="off"></label> <button>Look</button></form>
<h2>Venues</h2>
<div class="wide"><table><thead><tr><th>venue<th class="n">matches<th>share<th class="n">standing still<th class="n">commit, p50<th class="n">p99<th>state<th>address</tr></thead><tbody id="venues"></tbody></table></div>
<h2>What happened</h2>
<div class="wide"><table><thead><tr><th class="n">ago<th>venue<th>what<th>match<th>more</tr></thead><tbody id="lately"></tbody></table></div>
<script type="module">
const $ = (id) => document.getElementById(id)
const row = (cells) => {
  const tr = document.createElement('tr')
  for (const [content, kind = ''] of cells) {
    const td = document.createElement('td')
    td.className = kind
    td.append(content ?? '')
    tr.append(td)
  }
  return tr
}
const meter = (value, max) => Object.assign(document.createElement('meter'), { value, max, title: value + ' of ' + max })
const ms = (value) => (value === undefined ? '–' : value < 10 ? value.toFixed(1) + ' ms' : Math.round(value) + ' ms')
const clock = (ago) => { const s = Math.round(ago / 1000); return s < 60 ? s + ' s' : Math.floor(s / 60) + ':' + String(s % 60).padStart(2, '0') }
const words = { handed: 'moved', taken: 'taken over', lost: 'lost to another venue', broken: 'cannot be gone on with', replaced: 'name taken' }
const rooms = { full: ['no room: begins none', 'warn'], brimful: ['no room: stands still', 'bad'] }
const bad = new Set(['stands still', 'broken', 'replaced'])
const more = ({ epoch, to, took, why, by }) => [epoch && 'epoch ' + epoch, to && 'to ' + to.split('@')[0], took && ms(took), why, by].filter(Boolean).join(', ')
const count = (n, one, many = one + 's') => n + ' ' + (n === 1 ? one : many)
const headers = () => { const token = sessionStorage.getItem('admission'); return token ? { authorization: 'Bearer ' + token } : {} }
$('admission').onsubmit = (event) => { event.preventDefault(); sessionStorage.setItem('admission', event.target.token.value); $('admission').hidden = true; look() }
let timer
async function look() {
  clearTimeout(timer)
  try {
    const answer = await fetch('circuit', { headers: { accept: 'application/json', ...headers() } })
    if (answer.status === 401) { $('admission').hidden = false; $('sum').textContent = 'Only operators see the circuit.'; return }
    show(await answer.json())
  } catch { $('sum').textContent = 'This venue does not answer. Open the page of another.' }
  timer = setTimeout(look, 1000)
}
function show({ venues }) {
  const all = venues.flatMap(({ matches }) => matches)
  const still = all.filter(({ standsStill }) => standsStill).length
  $('sum').textContent = count(venues.length, 'venue') + ', ' + count(all.length, 'match', 'matches') + (still ? ', ' + still + ' standing still: nothing can be committed' : '')
  $('sum').className = still ? 'bad' : ''
  $('venues').replaceChildren(...venues.map(({ venue, url, matches, commit, isLeaving, room }) => {
    const stopped = matches.filter(({ standsStill }) => standsStill).length
    return row([[venue], [matches.length, 'n'], [meter(matches.length, Math.max(1, all.length))], [stopped, stopped ? 'n bad' : 'n'], [ms(commit?.p50), 'n'], [ms(commit?.p99), 'n'], isLeaving ? ['leaving', 'warn'] : rooms[room] ?? ['takes matches'], [url]])
  }))
  const events = venues.flatMap(({ venue, lately }) => lately.map((event) => ({ venue, ...event }))).sort((a, b) => a.ago - b.ago).slice(0, 40)
  $('lately').replaceChildren(...events.map((event) => row([[clock(event.ago), 'n'], [event.venue], [words[event.what] ?? event.what, bad.has(event.what) ? 'bad' : ''], [event.match], [more(event)]])))
}
look()
</script>
</html>
`
