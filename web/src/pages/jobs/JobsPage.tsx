import { Plus } from 'lucide-react'
import { useState } from 'react'
import { useJobs } from '../../api/hooks'
import { Empty, Loading, Problem } from '../../ui/feedback'
import { Button, LinkButton } from '../../ui/parts'
import { JobRow } from './JobRow'
import { UnreadableCard } from './UnreadableCard'
import { Heading } from '../../ui/Heading'

export default function JobsPage() {
  const [away, setAway] = useState(false)
  const jobs = useJobs(away)
  if (jobs.isPending) return <Loading what="jobs" />
  if (jobs.isError) return <Problem error={jobs.error} again={() => void jobs.refetch()} />
  return (
    <>
      <header className="mb-4 flex items-center justify-between gap-3">
        <Heading title={away ? 'Jobs put away' : 'Jobs'}>{away ? 'Jobs put away' : 'Jobs'}</Heading>
        <LinkButton look="main" to="/jobs/new">
          <Plus aria-hidden className="size-5" /> New job
        </LinkButton>
      </header>
      <UnreadableCard />
      {jobs.data.length === 0 &&
        (away ? (
          <Empty title="Nothing is put away">A job that is done can leave the list; its records stay.</Empty>
        ) : (
          <Empty title="No job yet">Say what the piece is, and what you want on it.</Empty>
        ))}
      <ul className="grid gap-3">
        {jobs.data.map((job) => (
          <JobRow key={job.id} job={job} />
        ))}
      </ul>
      {jobs.hasNextPage && (
        <Button className="mt-3 w-full" disabled={jobs.isFetching} onClick={() => void jobs.fetchNextPage()}>
          Show older ones
        </Button>
      )}
      <Button look="quiet" className="-ml-2 mt-3" onClick={() => setAway(!away)}>
        {away ? 'Back to the jobs at hand' : 'Jobs put away'}
      </Button>
    </>
  )
}
