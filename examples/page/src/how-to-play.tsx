import './how-to-play.css'

/** The pages of the modes, by their path. */
const pages = import.meta.glob<string>('../../../docs/modes/*.md', {
  query: '?raw',
  import: 'default',
  eager: true,
})
/** From here on a page is for whoever weighs the mode, not for its players. */
const FIGURES = '**How it plays.**'

/** The rules of a mode for its players, folded up; nothing for a mode that has no page. */
export function HowToPlay({ mode }: { readonly mode: string }) {
  const page = pages[`../../../docs/modes/${mode}.md`]
  if (page === undefined) return null
  const [told = ''] = page.split(FIGURES)
  const paragraphs = told
    .replace(/ Rules: \[.*\]\(.*\)\./, '')
    .split('\n\n')
    .slice(1)
    .filter((text) => text.trim() !== '')
  return (
    <details class="how-to-play">
      <summary>How to play</summary>
      {paragraphs.map((text) => (
        <p key={text}>{text.replaceAll('**', '')}</p>
      ))}
    </details>
  )
}
