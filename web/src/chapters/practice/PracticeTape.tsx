import { useMutation } from '@tanstack/react-query'
import { api, body, type Schema } from '../../api/client'
import type { Job } from '../../api/types'
import { Problem } from '../../ui/feedback'
import { Button } from '../../ui/parts'

/** The practice bench's tape and calliper: measure a practice piece at three heights. */
export function PracticeTape({
  job,
  measured,
}: {
  job: Job
  measured: (girths: Schema<'GirthIO'>[]) => void
}) {
  const measure = useMutation({
    mutationFn: (by: Schema<'GirthTool'>) =>
      body(
        api.POST('/api/jobs/{job_id}/practice/girths', {
          params: { path: { job_id: job.id } },
          body: { by },
        }),
      ),
    onSuccess: measured,
  })
  if (!job.practice) return null
  return (
    <div className="mb-3 grid grid-cols-2 gap-2">
      <Button disabled={measure.isPending} onClick={() => measure.mutate('tape')}>
        Practice tape
      </Button>
      <Button disabled={measure.isPending} onClick={() => measure.mutate('calliper')}>
        Practice calliper
      </Button>
      {measure.error && <Problem error={measure.error} />}
    </div>
  )
}
