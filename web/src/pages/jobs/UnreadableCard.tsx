import { useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import { useJobWrite, useSession, useUnreadableJobs } from '../../api/hooks'
import { Problem } from '../../ui/feedback'
import { AskedFirst, Button, Card } from '../../ui/parts'

/** Jobs that no list shows because something of them cannot be read: named, with what can be done. */
export function UnreadableCard() {
  const jobs = useUnreadableJobs().data ?? []
  if (jobs.length === 0) return null
  return (
    <Card
      title={jobs.length === 1 ? 'A job that cannot be read' : 'Jobs that cannot be read'}
      className="mb-4"
    >
      <ul>
        {jobs.map((job) => (
          <UnreadableRow key={job.id} job={job} />
        ))}
      </ul>
      <p className="mt-2 text-sm text-soft">
        Everything else works. “Take everything out” on the Shop page saves what is kept of it, as it is.
      </p>
    </Card>
  )
}

function UnreadableRow({ job }: { job: Schema<'UnreadableOut'> }) {
  const [asked, setAsked] = useState(false)
  const session = useSession()
  const params = { path: { job_id: job.id } }
  const put = useJobWrite(job.id, () =>
    body(
      api.PUT('/api/jobs/{job_id}/put-away', { params, body: { away: !job.put_away, version: job.version } }),
    ),
  )
  const remove = useJobWrite(job.id, () =>
    api.DELETE('/api/jobs/{job_id}', { params: { ...params, query: { version: job.version } } }),
  )
  const error = put.error ?? remove.error
  return (
    <li className="border-b border-line py-2 last:border-0">
      <p className="font-bold">{job.name}</p>
      <p className="text-ember">{job.why}</p>
      <div className="flex flex-wrap gap-2">
        <Button look="quiet" disabled={put.isPending} onClick={() => put.mutate(undefined)}>
          {job.put_away ? 'Take back' : 'Put away'}
        </Button>
        {session.data?.owner && (
          <Button look="quiet" disabled={remove.isPending} onClick={() => setAsked(true)}>
            Delete …
          </Button>
        )}
      </div>
      {asked && (
        <AskedFirst
          act={`Delete ${job.name}`}
          busy={remove.isPending}
          onAct={() => remove.mutate(undefined)}
          onKeep={() => setAsked(false)}
        >
          Grids, photos, settings and runs of it go for good; the logbook keeps its lines.
        </AskedFirst>
      )}
      {error && <Problem error={error} />}
    </li>
  )
}
