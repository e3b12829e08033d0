import { api, body } from '../../api/client'
import { useJobWrite } from '../../api/hooks'
import type { Job } from '../../api/types'
import { Problem } from '../../ui/feedback'
import { Button, Card } from '../../ui/parts'
import { RATING_INK, RatingIcon } from '../../drawing/RatingMark'

/** The proof of a practice: twelve fresh pieces at the locked setting. */
export function BatchCard({ job }: { job: Job }) {
  const run = useJobWrite(job.id, () =>
    body(api.POST('/api/jobs/{job_id}/practice/batch', { params: { path: { job_id: job.id } } })),
  )
  const { practice, locked } = job
  if (!practice || !locked) return null
  const stale = practice.batch_version !== null && practice.batch_version !== locked.version
  return (
    <Card accent title="Simulated batch of twelve" className="mb-4">
      {practice.batch.length === 0 || stale ? (
        <p>
          Twelve fresh pieces at the locked setting, each with its own coat, beam and height, as they come.
          {stale && ' The last batch was run with an older version.'}
        </p>
      ) : (
        <>
          <p className="text-3xl font-bold">
            {practice.clean} of {practice.of} clean
          </p>
          <p className="text-soft">
            for {practice.pieces} test piece{practice.pieces === 1 ? '' : 's'} and {practice.cells} cells
          </p>
          <ol className="mt-3 grid gap-x-6 sm:grid-cols-2 lg:grid-cols-3">
            {practice.batch.map((piece) => (
              <li key={piece.number} className="flex min-h-11 items-center gap-2 border-b border-line">
                <span className="w-6 text-right font-mono text-soft">{piece.number}</span>
                <RatingIcon rating={piece.verdict} />
                <span className={`font-bold ${RATING_INK[piece.verdict]}`}>{piece.verdict}</span>
                <span className="text-sm text-soft">{piece.why}</span>
              </li>
            ))}
          </ol>
        </>
      )}
      <Button
        look={practice.batch.length && !stale ? 'plain' : 'main'}
        className="mt-3"
        disabled={run.isPending}
        onClick={() => run.mutate(undefined)}
      >
        {run.isPending ? 'Burning twelve …' : practice.batch.length ? 'Run it again' : 'Run the batch'}
      </Button>
      {run.error && <Problem error={run.error} />}
    </Card>
  )
}
