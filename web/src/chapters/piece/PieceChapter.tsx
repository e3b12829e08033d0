import { api, body, type Schema } from '../../api/client'
import { useCatalogue, useJobWrite, useMachines } from '../../api/hooks'
import { Loading, Problem } from '../../ui/feedback'
import type { Job } from '../../api/types'
import { PieceForm } from './PieceForm'
import { useSeen } from '../../ui/useSeen'

export default function PieceChapter({ job }: { job: Job }) {
  const catalogue = useCatalogue()
  const machines = useMachines()
  const { seen, see } = useSeen(job.version)
  const change = useJobWrite(job.id, async (values: Schema<'JobIn'>) => {
    const changed = await body(
      api.PUT('/api/jobs/{job_id}', {
        params: { path: { job_id: job.id } },
        body: { ...values, version: seen },
      }),
    )
    see(changed.version)
    return changed
  })
  if (catalogue.isPending || machines.isPending) return <Loading what="catalogue" />
  if (catalogue.isError) return <Problem error={catalogue.error} />
  if (machines.isError) return <Problem error={machines.error} />
  return (
    <PieceForm
      catalogue={catalogue.data}
      machines={machines.data}
      start={job}
      submit={(values) => change.mutate(values)}
      error={change.error}
      pending={change.isPending}
      label={change.isSuccess ? 'Saved. Save again' : 'Save the changes'}
      fixed={!!job.grid?.burned_at}
    />
  )
}
