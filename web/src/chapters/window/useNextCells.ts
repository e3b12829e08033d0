import { useNavigate } from 'react-router'
import { api, body, type Schema } from '../../api/client'
import { useJobWrite } from '../../api/hooks'
import type { Job } from '../../api/types'
import { drawnGrid } from '../grid/drawnGrid'

/** Draws a grid for these lines and passes, unless the wish says for which, and goes there. */
export function useNextCells(job: Job, lines: Pick<Schema<'SettingOut'>, 'interval_mm' | 'passes'>) {
  const navigate = useNavigate()
  const drawing = useJobWrite(job.id, (input: Schema<'GridWishIn'>) =>
    body(api.POST('/api/jobs/{job_id}/grids', { params: { path: { job_id: job.id } }, body: input })),
  )
  const draw = (wish: Partial<Schema<'GridWishIn'>> & { kind: string }) =>
    drawing.mutate(
      {
        interval_mm: lines.interval_mm,
        passes: lines.passes,
        factors: [],
        wait_s: 0,
        replaces: drawnGrid(job),
        ...wish,
      },
      { onSuccess: () => void navigate(`/jobs/${job.id}/grid`) },
    )
  return { draw, isPending: drawing.isPending, error: drawing.error }
}
