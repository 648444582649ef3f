import { expect, test } from 'vitest'
import { folder, run } from './run.ts'

const commands: readonly string[] = [
  'demo reed-regatta --all --record regatta.jsonl',
  'demo mussel-dip --seats 4 --record mussels.jsonl',
  'demo lantern-market --with fog,moths --seed fair-2 --record market.jsonl',
  'demo lantern-market --with all --record all.jsonl',
  'demo spoiled-brew --record brew.jsonl',
  'demo stepping-stones --all --record stones.jsonl',
  'demo kettle-watch --all --record kettle.jsonl',
  'demo pike-pond --record pond.jsonl',
  'view regatta.jsonl --seat otter --at 0:57',
  'view regatta.jsonl --seat server --at 5:00',
  'view mussels.jsonl --seat spectator --at 1:00',
  'view market.jsonl --seat server --at 0:40',
  'view mussels.jsonl --seat heron --at 1:30 --json',
  'replay market.jsonl',
  'sheet regatta.jsonl',
  'sheet regatta.jsonl --at 3:00 --csv',
  'describe lantern-market',
  'sights spoiled-brew',
  'rehearse stepping-stones --matches 20 --workers 1',
  'sightcheck stepping-stones --checks 3 --workers 1',
  'sightcheck mussels.jsonl --checks 1 --steps 3 --workers 1 --json',
]
const named = 'demo replay explain review scenario view serve describe sheet new sights sightcheck rehearse'
const verbs = ['', ...named.split(' ').map((verb) => `${verb} `)]
const mistakes = [
  'fly',
  'demo reed-regata',
  'demo --rulebook nothing.ts',
  'demo --seats 1',
  'demo --seats many',
  'demo --fast',
  'demo --record /dev/null/record.jsonl',
  'demo lantern-market --with rain',
  'serve lantern-market --with rain',
  'replay nothing.jsonl',
  'sheet regatta.jsonl --at 19:00',
  'view regatta.jsonl',
  'view regatta.jsonl --seat oter --at 0:57',
  'view regatta.jsonl --seat otter --at noon',
  'view regatta.jsonl --seat otter --at 19:00',
  'sightcheck mussels.jsonl --seed fair-2',
  'sightcheck mussels.jsonl --settings {}',
  'sightcheck --settings {',
  'sightcheck --workers 0',
]

/** What a command prints, and its exit code. */
async function printed(line: string): Promise<string> {
  const args = line.split(' ').map((word) => (/^\w+\.jsonl$/.test(word) ? `${folder}/${word}` : word))
  const { status, stdout, stderr } = await run(...args)
  const text = `$ zinc-referee ${line}\n\n${stdout}${stderr}\nexit code ${status}\n`
  return text.replaceAll(`${folder}/`, '').replace(/(?<=took +)\d+/, '…')
}

// Read a change in the diff; `npx vitest run packages/cli/test/printed.test.ts -u` takes it over.
test.each(commands)('zinc-referee %s', async (line) => {
  const text = await printed(line)
  await expect(text).toMatchFileSnapshot(`printed/${line.replaceAll(/[^a-z0-9]+/g, '-')}.txt`)
  if (line.startsWith('demo'))
    for (const each of text.split('\n').slice(1))
      expect(each.includes('npx ') || each.length <= 80, each).toBe(true)
})
test.each([
  ['help', verbs.map((verb) => `${verb}--help`)],
  ['mistakes', mistakes],
])('%s', async (name, lines) => {
  const texts = []
  for (const line of lines) texts.push(await printed(line))
  await expect(texts.join('\n')).toMatchFileSnapshot(`printed/${name}.txt`)
})
