import { Plus } from 'lucide-react'
import { Link } from 'react-router'
import { useJobs } from '../api/hooks'
import { Empty, Loading, Problem } from '../ui/feedback'
import { LinkButton } from '../ui/parts'
import { dayAndClock } from '../ui/units'
import { countText, pieceSize } from './pieceSize'

export default function JobsPage() {
  const jobs = useJobs()
  if (jobs.isPending) return <Loading what="jobs" />
  if (jobs.isError) return <Problem error={jobs.error} again={() => void jobs.refetch()} />
  return (
    <>
      <header className="mb-4 flex items-center justify-between">
        <h1 className="text-2xl font-bold">Jobs</h1>
        <LinkButton look="main" to="/jobs/new">
          <Plus aria-hidden className="size-5" /> New job
        </LinkButton>
      </header>
      {jobs.data.length === 0 && (
        <Empty title="No job yet">Say what the piece is, and what you want on it.</Empty>
      )}
      <ul className="grid gap-3">
        {jobs.data.map((job) => (
          <li key={job.id}>
            <Link
              to={`/jobs/${job.id}/${job.next.chapter}`}
              className="grid gap-x-6 gap-y-1 rounded-2xl border border-line bg-card p-4 hover:border-soft md:grid-cols-[minmax(0,3fr)_minmax(0,3fr)_minmax(0,2fr)]"
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
          </li>
        ))}
      </ul>
    </>
  )
}
