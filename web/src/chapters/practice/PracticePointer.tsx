import { useMutation } from '@tanstack/react-query'
import { api, body } from '../../api/client'
import type { Job } from '../../api/types'
import { Problem } from '../../ui/feedback'
import { Button } from '../../ui/parts'

/** The practice bench's pointer: touches a practice piece, or a jig's crosses, and tells where the machine says it is. */
export function PracticePointer({
  job,
  jigId,
  touched,
}: {
  job: Job
  jigId?: number
  touched: (points: number[][]) => void
}) {
  const touch = useMutation({
    mutationFn: () =>
      body(
        api.POST('/api/jobs/{job_id}/practice/touches', {
          params: { path: { job_id: job.id } },
          body: { jig_id: jigId ?? null },
        }),
      ),
    onSuccess: touched,
  })
  if (!job.practice) return null
  return (
    <>
      <Button className="mt-2" disabled={touch.isPending} onClick={() => touch.mutate()}>
        Touch with the practice pointer
      </Button>
      {touch.error && <Problem error={touch.error} />}
    </>
  )
}
