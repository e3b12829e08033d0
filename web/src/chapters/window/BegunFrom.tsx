import { Fragment } from 'react'
import { Link } from 'react-router'
import type { Schema } from '../../api/client'

type Source = Schema<'BegunSourceOut'>

/** What a window began from besides the catalogue: sources of which the same is said stand together, those of one name
 *  as one. */
export function BegunFrom({ begun, sources }: { begun: string; sources: Source[] }) {
  const said = [...new Set(sources.map((source) => source.words))]
  return (
    <>
      <p className="mt-2 text-sm text-soft">{begun}</p>
      <ul className="mt-1 text-sm text-soft">
        {said.map((words) => (
          <li key={words} className="py-0.5 first-letter:uppercase">
            {words}:{' '}
            {oncePerName(sources.filter((source) => source.words === words)).map(
              ([source, times], number) => (
                <Fragment key={`${source.job_id} ${source.name}`}>
                  {number > 0 && '; '}
                  <Named source={source} />
                  {times > 1 && ` (${times} times)`}
                </Fragment>
              ),
            )}
          </li>
        ))}
      </ul>
    </>
  )
}

function Named({ source }: { source: Source }) {
  if (!source.job_id) return source.name
  return (
    <Link className="underline" to={`/jobs/${source.job_id}/window`}>
      {source.name}
    </Link>
  )
}

function oncePerName(sources: Source[]): [Source, number][] {
  const firsts = sources.filter(({ name }, at) => sources.findIndex((other) => other.name === name) === at)
  return firsts.map((first) => [first, sources.filter(({ name }) => name === first.name).length])
}
