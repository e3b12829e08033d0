import { api, body } from '../../api/client'
import { useJobWrite } from '../../api/hooks'
import type { Job } from '../../api/types'
import { Problem } from '../../ui/feedback'
import { TickField } from '../../ui/form'

/** Whether a window begins from the workshop's own locked ones, or from the catalogue alone; nothing where neither
 *  is a question, as it `begun` from nothing else. */
export function LearnsTick({ job, begun }: { job: Job; begun: string }) {
  const change = useJobWrite(job.id, (learns: boolean) =>
    body(
      api.PUT('/api/jobs/{job_id}/learning', {
        params: { path: { job_id: job.id } },
        body: { learns, version: job.version },
      }),
    ),
  )
  if (!begun && job.learns) return null
  return (
    <>
      <TickField
        className="mt-1"
        checked={job.learns}
        disabled={change.isPending}
        onChange={(event) => change.mutate(event.target.checked)}
      >
        Begin from your own earlier windows
      </TickField>
      {change.isError && <Problem error={change.error} />}
    </>
  )
}
