import { useState } from 'react'
import { LinkButton, Button, Card } from '../../ui/parts'
import { api, body, type Schema } from '../../api/client'
import { useJobWrite, useRuns } from '../../api/hooks'
import type { Job } from '../../api/types'
import { Problem } from '../../ui/feedback'
import { RefusalScope, TypedField } from '../../ui/form'
import { RatingIcon, RATING_INK } from '../../drawing/RatingMark'
import { dayAndClock, useUnits } from '../../ui/units'

/** What came of the pieces: counted after a run, the window learns from it. */
export function RunsCard({ job }: { job: Job }) {
  const runs = useRuns(job.id)
  const { showSpeed } = useUnits()
  const [clean, setClean] = useState('')
  const [faint, setFaint] = useState('0')
  const [harsh, setHarsh] = useState('0')
  const [note, setNote] = useState('')
  const write = useJobWrite(job.id, (input: Schema<'RunIn'>) =>
    body(
      api.POST('/api/jobs/{job_id}/runs', {
        params: { path: { job_id: job.id } },
        body: input,
      }),
    ),
  )
  const counts = [clean, faint, harsh].map(Number)
  const usable = clean.trim() !== '' && counts.every((n) => Number.isInteger(n) && n >= 0)
  const [cleanCount = 0, faintCount = 0, harshCount = 0] = counts
  return (
    <RefusalScope error={write.error}>
      <Card title="What came of the run" className="no-print">
        <p>
          Washed, dried, looked at: count every piece once. The window learns from it and tells drift early.
        </p>
        <div className="mt-3 grid gap-3 sm:grid-cols-[repeat(3,6rem)_minmax(0,1fr)_auto] sm:items-end">
          <TypedField label="Clean" name="clean" inputMode="numeric" value={clean} set={setClean} />
          <TypedField label="Faint" name="faint" inputMode="numeric" value={faint} set={setFaint} />
          <TypedField label="Harsh" name="harsh" inputMode="numeric" value={harsh} set={setHarsh} />
          <TypedField label="Note" name="note" value={note} set={setNote} maxLength={300} />
          <Button
            look="main"
            disabled={!usable || write.isPending}
            onClick={() =>
              write.mutate(
                {
                  clean: cleanCount,
                  faint: faintCount,
                  harsh: harshCount,
                  lock_version: job.locked?.version ?? 0,
                  note,
                },
                {
                  onSuccess: () => {
                    setClean('')
                    setFaint('0')
                    setHarsh('0')
                    setNote('')
                  },
                },
              )
            }
          >
            Write it down
          </Button>
        </div>
        {write.isError && <Problem error={write.error} />}
        {runs.isError && <Problem error={runs.error} again={() => void runs.refetch()} />}
        {runs.data && runs.data.length > 0 && (
          <ul className="mt-3">
            {runs.data.map((run) => (
              <li
                key={run.id}
                className="flex flex-wrap items-baseline gap-x-4 border-b border-line py-1.5 last:border-0"
              >
                <span>{dayAndClock(run.at)}</span>
                <span className="font-mono text-sm">
                  {run.power_pct} %, {showSpeed(run.speed_mm_s)}
                </span>
                {(['clean', 'faint', 'harsh'] as const).map((rating) => (
                  <span key={rating} className={`flex items-center gap-1 ${RATING_INK[rating]}`}>
                    <RatingIcon rating={rating} /> {run[rating]}
                  </span>
                ))}
                {run.lot && <span className="text-sm text-soft">lot {run.lot}</span>}
                {run.note && <span className="text-sm text-soft">{run.note}</span>}
              </li>
            ))}
          </ul>
        )}
        {runs.data && runs.data.length > 0 && (
          <LinkButton look="quiet" className="-ml-2 mt-2" to={`/jobs/${job.id}/window`}>
            What it says of the window
          </LinkButton>
        )}
      </Card>
    </RefusalScope>
  )
}
