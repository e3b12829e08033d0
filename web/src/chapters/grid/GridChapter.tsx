import { useState } from 'react'
import { useGrids } from '../../api/hooks'
import type { Job } from '../../api/types'
import { Loading, Problem } from '../../ui/feedback'
import { DesignGrid } from './DesignGrid'
import { DrawnGrid } from './DrawnGrid'

export default function GridChapter({ job }: { job: Job }) {
  const grids = useGrids(job.id)
  const [again, setAgain] = useState(false)
  if (grids.isPending) return <Loading what="grids" />
  if (grids.isError) return <Problem error={grids.error} again={() => void grids.refetch()} />
  const last = grids.data.at(-1)
  if (!last || again)
    return (
      <DesignGrid
        job={job}
        first={!last}
        drawn={() => setAgain(false)}
        cancel={last && (() => setAgain(false))}
      />
    )
  return <DrawnGrid job={job} grid={last} earlier={grids.data.slice(0, -1)} redesign={() => setAgain(true)} />
}
