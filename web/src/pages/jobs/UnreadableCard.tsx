import type { Schema } from '../../api/client'
import { useUnreadableJobs } from '../../api/hooks'
import { Problem } from '../../ui/feedback'
import { Card } from '../../ui/parts'
import { DeleteQuestion, TakeOffButtons, useTakingOff } from './takingOff'

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
  const off = useTakingOff(job)
  return (
    <li className="border-b border-line py-2 last:border-0">
      <p className="font-bold">{job.name}</p>
      <p className="text-ember">{job.why}</p>
      <div className="flex flex-wrap gap-2">
        <TakeOffButtons job={job} off={off} canDelete />
      </div>
      <DeleteQuestion job={job} off={off} />
      {off.error && <Problem error={off.error} />}
    </li>
  )
}
