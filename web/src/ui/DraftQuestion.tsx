import { useEffect, useRef } from 'react'
import { nameOf, wordsAt } from './draft'
import { Button, Card } from './parts'
import type { Question } from './useDraft'

/** Asked where somebody else changed the same fields: nothing is saved until one is chosen. */
export function DraftQuestion({ question }: { question: Question | null }) {
  return question && <Asked question={question} />
}

function Asked({ question: { clashes, value, mine, keepMine, takeTheirs } }: { question: Question }) {
  const asked = useRef<HTMLDivElement>(null)
  // It may stand far from the field that somebody types in.
  useEffect(() => {
    void asked.current?.scrollIntoView({ block: 'center' })
  }, [])
  return (
    <Card accent title="Changed elsewhere at the same time">
      <div role="alert" ref={asked}>
        <p>Nothing is saved until you choose.</p>
        <table className="my-2 w-full">
          <thead>
            <tr className="text-left text-sm text-soft">
              <th scope="col">Field</th>
              <th scope="col">Here</th>
              <th scope="col">Elsewhere</th>
            </tr>
          </thead>
          <tbody>
            {clashes.map((path) => (
              <tr key={nameOf(path)} className="border-t border-line">
                <th scope="row" className="py-1 text-left font-normal">
                  {nameOf(path)}
                </th>
                <td className="font-mono">{wordsAt(mine, path)}</td>
                <td className="font-mono">{wordsAt(value, path)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <div className="flex flex-wrap gap-2">
          <Button onClick={keepMine}>Keep what is here</Button>
          <Button onClick={takeTheirs}>Take what is elsewhere</Button>
        </div>
      </div>
    </Card>
  )
}
