import { api, body, type Schema } from '../../api/client'
import { useJobWrite } from '../../api/hooks'
import type { Job } from '../../api/types'

/** Starts the simulated burn of a grid, or carries it on; the pace is a number of times real, or "quick". */
export function useBurnStart(job: Job, grid: Schema<'GridOut'>) {
  return useJobWrite(job.id, (pace: string) =>
    body(
      api.POST('/api/grids/{grid_id}/burns', {
        params: { path: { grid_id: grid.id ?? 0 } },
        body: { pace: pace === 'quick' ? null : Number(pace) },
      }),
    ),
  )
}
