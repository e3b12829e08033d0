import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { fetchAnew, keys } from '../../api/keys'
import { api, body, type Schema } from '../../api/client'
import { usePractice } from '../../api/hooks'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Loading, Problem } from '../../ui/feedback'
import { Button, Card } from '../../ui/parts'
import { dayAndClock } from '../../ui/units'
import { TickField } from '../../ui/form'
import { Heading } from '../../ui/Heading'

export default function PracticePage() {
  const page = usePractice()
  if (page.isPending) return <Loading what="practice bench" />
  if (page.isError) return <Problem error={page.error} again={() => void page.refetch()} />
  return (
    <>
      <Heading title="Practice bench">Practice bench</Heading>
      <p className="mb-5 max-w-prose text-soft">
        A simulated laser, coat, piece and phone: coat a piece well or badly, burn a grid, photograph it,
        choose a setting, and see how many of twelve come out clean. Nothing burns, nothing is spent, and
        nothing of it ever mixes with your real records.
      </p>
      <div className="grid items-start gap-4 xl:grid-cols-[minmax(0,1fr)_26rem]">
        <Scenarios scenarios={page.data.scenarios} />
        <Practices jobs={page.data.jobs} />
        {page.data.odd.length > 0 && (
          <p role="alert" className="mt-3 rounded-xl bg-ember-tint p-3">
            The practice bench knows nothing of {page.data.odd.join(', ')}: left out here. Tell whoever runs
            the server.
          </p>
        )}
      </div>
    </>
  )
}

function Scenarios({ scenarios }: { scenarios: Schema<'ScenarioOut'>[] }) {
  const navigate = useNavigate()
  const client = useQueryClient()
  const [hidden, setHidden] = useState(false)
  const start = useMutation({
    mutationFn: (scenario: string) => body(api.POST('/api/practice', { body: { scenario, hidden } })),
    onSuccess: (job) => {
      void fetchAnew.these(client, keys.practice)
      void navigate(`/jobs/${job.id}/coat`)
    },
  })
  return (
    <Card title="Start one">
      <TickField className="mb-3" checked={hidden} onChange={(e) => setHidden(e.target.checked)}>
        A hidden material: nobody knows its figures, and the machine&apos;s watts may be a fifth off
      </TickField>
      {start.error && <Problem error={start.error} />}
      <ul className="grid gap-3 sm:grid-cols-2">
        {scenarios.map((scenario) => (
          <li key={scenario.key} className="flex items-center gap-3 rounded-xl border border-line p-3">
            <Swatch scenario={scenario} />
            <div className="min-w-0 grow">
              <p className="font-bold">{scenario.title}</p>
              <p className="text-sm text-soft">{scenario.words}</p>
              <Button className="mt-2" disabled={start.isPending} onClick={() => start.mutate(scenario.key)}>
                Practise<span className="sr-only"> on {scenario.title}</span>
              </Button>
            </div>
          </li>
        ))}
      </ul>
    </Card>
  )
}

function Practices({ jobs }: { jobs: Schema<'PracticeJobOut'>[] }) {
  return (
    <Card title="So far">
      {jobs.length === 0 && <p className="text-soft">No practice yet. Your score will stand here.</p>}
      <ul>
        {jobs.map((job) => (
          <li key={job.id} className="border-b border-line last:border-0">
            <Link to={`/jobs/${job.id}/${job.next_chapter}`} className="block min-h-11 py-2">
              <span className="flex justify-between gap-3">
                <b>{job.name}</b>
                <span className="shrink-0 font-mono">{job.of ? `${job.clean} of ${job.of}` : '–'}</span>
              </span>
              <span className="flex justify-between gap-3 text-sm text-soft">
                <span>
                  {job.pieces} piece{job.pieces === 1 ? '' : 's'}, {job.cells} cells; next: {job.next_title}
                </span>
                <span className="shrink-0">{dayAndClock(job.updated_at)}</span>
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </Card>
  )
}

/** The piece as it looks once washed, with a clean mark on it: a leaf. */
function Swatch({ scenario }: { scenario: Schema<'ScenarioOut'> }) {
  const { width_mm: width, height_mm: height, ground, mark } = scenario
  return (
    <svg
      viewBox={`${-width / 2} ${-height / 2} ${width} ${height}`}
      className="shrink-0 rounded-sm border border-line"
      style={{ width: `${5 * Math.min(1, (1.2 * width) / height)}rem` }}
      aria-hidden
    >
      <rect x={-width / 2} y={-height / 2} width={width} height={height} fill={ground} />
      <g transform={`scale(${Math.min(width, height) / 100})`}>
        <path d="M0 38C-34 20 -34 -16 0 -40C34 -16 34 20 0 38Z" fill={mark} />
        <path
          d="M0 44V-26M0 20L-15 6M0 20L15 6M0 2L-12 -10M0 2L12 -10"
          fill="none"
          stroke={ground}
          strokeWidth={3}
        />
      </g>
    </svg>
  )
}
