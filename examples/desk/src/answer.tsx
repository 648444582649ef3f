import { useEffect, useState } from 'preact/hooks'
import { formatElapsed } from 'zinc-referee'
import { type Why, whyIs } from './data.ts'

/** A question about the record, and its answer. */
export function Answer({
  question,
  ask,
  goToLine,
}: {
  readonly question: string
  readonly ask: (question: string) => void
  readonly goToLine: (line: number) => void
}) {
  const [why, setWhy] = useState<Why>()
  const [problem, setProblem] = useState('')
  const [isDeep, setDeep] = useState(false)
  useEffect(() => {
    let isOld = false
    setProblem('')
    setWhy(undefined)
    if (question === '') return
    whyIs(question).then(
      (answer) => !isOld && setWhy(answer),
      (error: unknown) => !isOld && setProblem(error instanceof Error ? error.message : String(error)),
    )
    return () => {
      isOld = true
    }
  }, [question])
  const causes = (isDeep ? why?.causes : why?.short) ?? []
  return (
    <section class="answer" aria-labelledby="why">
      <h2 id="why">Why?</h2>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          ask(String(new FormData(event.currentTarget).get('question')).trim())
        }}
      >
        <label>
          Ask
          <input name="question" key={question} defaultValue={question} placeholder="respawn of otter" />
        </label>
        <button type="submit">Ask</button>
      </form>
      <div aria-live="polite">
        {problem !== '' && <p class="problem">{problem}</p>}
        {why === undefined ? (
          question !== '' && problem === '' && <p>…</p>
        ) : (
          <>
            <p class="says">{why.answer}</p>
            <ol>
              {causes.map(({ at, line, depth, says }, n) => (
                <li key={n} style={{ marginLeft: `${(isDeep ? depth : Math.min(1, depth)) * 0.8}rem` }}>
                  {depth === 0 && <span class="number">{formatElapsed(at)} </span>}
                  {line === undefined ? (
                    says
                  ) : (
                    <button type="button" class="moment" onClick={() => goToLine(line)}>
                      {says}
                    </button>
                  )}
                </li>
              ))}
            </ol>
            {why.causes.length > why.short.length && (
              <button type="button" aria-pressed={isDeep} onClick={() => setDeep(!isDeep)}>
                {isDeep ? 'In short' : `All ${why.causes.length} causes`}
              </button>
            )}
          </>
        )}
      </div>
    </section>
  )
}
