import { Plus } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import type { Job } from '../../api/types'
import { useBench } from '../../api/hooks'
import { LayerSection } from '../../drawing/LayerSection'
import { Empty, Loading, Problem } from '../../ui/feedback'
import { Button, Card, LinkButton } from '../../ui/parts'
import { clock, showEnergy, useUnits } from '../../ui/units'
import { countdown, useServerNow } from '../../ui/useNow'
import { AgainCard } from './AgainCard'
import { UnreadableCard } from '../jobs/UnreadableCard'
import { DryingCard } from '../../chapters/coat/DryingCard'
import { RoomForm } from '../../chapters/coat/RoomForm'
import { Heading } from '../../ui/Heading'

const AT_FIRST = 10
const AT_ONCE = 20
const chapter = (job: Job) => `/jobs/${job.id}/${job.next.chapter}`

export function BenchPage() {
  const [most, setMost] = useState(AT_FIRST)
  const bench = useBench(Math.max(AT_ONCE, most))
  const now = useServerNow(bench.data?.now)
  if (bench.isPending) return <Loading what="bench" />
  if (bench.isError) return <Problem error={bench.error} again={() => void bench.refetch()} />
  const { jobs, turns, more } = bench.data
  const [first, ...others] = jobs
  const shown = others.slice(0, most)
  const unseen = others.length - shown.length + more
  const locked = jobs.filter((job) => job.locked)
  return (
    <>
      <header className="mb-4 flex flex-wrap items-center justify-between gap-3">
        <div>
          <Heading title="Bench">Bench</Heading>
          <p className="text-soft">
            {new Date(now).toLocaleDateString([], { weekday: 'long', day: 'numeric', month: 'long' })},{' '}
            {clock(new Date(now).toISOString())}
          </p>
        </div>
        <LinkButton to="/jobs/new">
          <Plus aria-hidden className="size-5" /> New job
        </LinkButton>
      </header>
      <UnreadableCard />
      {!first ? (
        <Empty title="The bench is empty">
          <p>A job takes a blank piece to a setting that stays clean.</p>
          <LinkButton look="main" to="/jobs/new" className="mt-4">
            Make the first job
          </LinkButton>
        </Empty>
      ) : (
        <div className="grid gap-4 lg:grid-cols-[minmax(0,2fr)_minmax(0,1fr)]">
          <div className="flex flex-col gap-4">
            <Card accent title="Next for your hands">
              <div className="grid gap-4 sm:grid-cols-[minmax(0,1fr)_13rem]">
                <div>
                  <p className="text-3xl leading-tight font-bold">{first.next.title}</p>
                  <p className="mt-2 text-lg text-soft">
                    {first.name} · {first.next.detail}
                  </p>
                  {first.next.due_at && (
                    <p className="mt-2 font-mono text-xl text-ember">{countdown(first.next.due_at, now)}</p>
                  )}
                  <LinkButton look="main" to={chapter(first)} className="mt-5 w-full sm:w-auto sm:px-10">
                    Go to it
                  </LinkButton>
                </div>
                <LayerSection job={first} className="max-w-60 sm:max-w-none" />
              </div>
            </Card>
            <DryingCard
              jobs={jobs}
              turns={turns}
              now={now}
              empty="Nothing is drying. A coat shows here from the moment it is stamped."
            />
            {locked.map((job) => (
              <LockedCard key={job.id} job={job} />
            ))}
          </div>
          <div className="flex flex-col gap-4">
            <Card title="Then">
              <ul className="-my-2">
                {shown.map((job) => (
                  <li key={job.id} className="border-b border-line last:border-0">
                    <Link
                      to={chapter(job)}
                      className="flex min-h-11 justify-between gap-3 py-2.5 hover:underline"
                    >
                      <span>
                        <span className="block font-bold">{job.next.title}</span>
                        <span className="text-soft">
                          {job.name}, {job.next.detail}
                        </span>
                      </span>
                      {job.next.due_at && (
                        <span className="font-mono whitespace-nowrap">{countdown(job.next.due_at, now)}</span>
                      )}
                    </Link>
                  </li>
                ))}
                {others.length === 0 && <li className="py-2 text-soft">Nothing else waits.</li>}
              </ul>
              {unseen > 0 && (
                <Button look="quiet" className="mt-2 w-full" onClick={() => setMost(most + AT_ONCE)}>
                  Show more: {unseen} press less
                </Button>
              )}
            </Card>
            <AgainCard />
            <Card title="Room">
              <RoomForm room={bench.data.room} />
            </Card>
          </div>
        </div>
      )}
    </>
  )
}

function LockedCard({ job }: { job: Job }) {
  const { showSpeed, showInterval } = useUnits()
  const lock = job.locked
  if (!lock) return null
  return (
    <Card
      title={`Locked: ${job.name}`}
      aside={<span className="text-sm text-soft">version {lock.version}</span>}
    >
      <p className="font-mono text-xl font-bold">
        {lock.power_pct} % · {showSpeed(lock.speed_mm_s)} · {showInterval(lock.interval_mm)}
      </p>
      <p className="mt-1 text-soft">
        {showEnergy(lock.energy_j_mm2)} · about {Math.round(100 * lock.clean_mid)} in 100 clean (
        {Math.round(100 * lock.clean_low)} to {Math.round(100 * lock.clean_high)})
      </p>
      <LinkButton className="mt-3" to={`/jobs/${job.id}/run`}>
        Run sheet
      </LinkButton>
    </Card>
  )
}
