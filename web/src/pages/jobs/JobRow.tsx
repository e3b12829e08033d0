import { Link } from 'react-router'
import { Problem } from '../../ui/feedback'
import { dayAndClock } from '../../ui/units'
import type { Job } from '../../api/types'
import { countText, pieceSize } from '../../chapters/piece/pieceSize'
import { DeleteQuestion, TakeOffButtons, useTakingOff } from './takingOff'

/** A job in the list, with what takes it off: put away, and from there deleted by an owner. */
export function JobRow({ job }: { job: Job }) {
  const off = useTakingOff(job)
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
          <TakeOffButtons job={job} off={off} canDelete={job.put_away} />
        </span>
      </div>
      <DeleteQuestion job={job} off={off} className="border-t border-line px-4 py-2" />
      {off.error && (
        <div className="px-4 pb-3">
          <Problem error={off.error} />
        </div>
      )}
    </li>
  )
}
