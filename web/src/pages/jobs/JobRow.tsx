import { useState } from 'react'
import { Link } from 'react-router'
import { api, body } from '../../api/client'
import { useJobWrite, useSession } from '../../api/hooks'
import { Problem } from '../../ui/feedback'
import { AskedFirst, Button } from '../../ui/parts'
import { dayAndClock } from '../../ui/units'
import type { Job } from '../../api/types'
import { countText, pieceSize } from '../../chapters/piece/pieceSize'

/** A job in the list, with what takes it off: put away, and from there deleted by an owner. */
export function JobRow({ job }: { job: Job }) {
  const session = useSession()
  const [asked, setAsked] = useState(false)
  const params = { path: { job_id: job.id } }
  const put = useJobWrite(job.id, (away: boolean) =>
    body(api.PUT('/api/jobs/{job_id}/put-away', { params, body: { away, version: job.version } })),
  )
  const remove = useJobWrite(job.id, () =>
    api.DELETE('/api/jobs/{job_id}', { params: { ...params, query: { version: job.version } } }),
  )
  const error = put.error ?? remove.error
  return (
    <li className="rounded-2xl border border-line bg-card hover:border-soft">
      <div className="flex flex-wrap items-center md:flex-nowrap">
        <Link
          to={`/jobs/${job.id}/${job.next.chapter}`}
          className="grid min-w-0 grow gap-x-6 gap-y-1 rounded-2xl p-4 md:grid-cols-[minmax(0,3fr)_minmax(0,3fr)_minmax(0,2fr)]"
        >
          <span>
            <span className="block text-lg font-bold">{job.name}</span>
            <span className="text-soft">
              {countText(job.pieces)}, {pieceSize(job)} {job.substrate_label}
            </span>
          </span>
          <span className="text-soft">
            {job.process_label}
            <br />
            {job.coat_label}; {job.machine}
          </span>
          <span>
            <span className="block font-bold">{job.next.title}</span>
            <span className="text-sm text-soft">changed {dayAndClock(job.updated_at)}</span>
          </span>
        </Link>
        <span className="flex shrink-0 items-center px-2 pb-2 md:pb-0">
          <Button
            look="quiet"
            disabled={put.isPending}
            aria-label={`${job.put_away ? 'Take back' : 'Put away'} ${job.name}`}
            onClick={() => put.mutate(!job.put_away)}
          >
            {job.put_away ? 'Take back' : 'Put away'}
          </Button>
          {job.put_away && session.data?.owner && (
            <Button look="quiet" disabled={remove.isPending} onClick={() => setAsked(true)}>
              Delete …
            </Button>
          )}
        </span>
      </div>
      {asked && (
        <AskedFirst
          act={`Delete ${job.name}`}
          busy={remove.isPending}
          onAct={() => remove.mutate(undefined)}
          onKeep={() => setAsked(false)}
          className="border-t border-line px-4 py-2"
        >
          Grids, photos, settings and runs of it go for good; the logbook keeps its lines.
        </AskedFirst>
      )}
      {error && (
        <div className="px-4 pb-3">
          <Problem error={error} />
        </div>
      )}
    </li>
  )
}
