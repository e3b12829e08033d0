import { Link } from 'react-router'
import { fetchAnew, keys } from '../../api/keys'
import { api, body, type Schema } from '../../api/client'
import { useJobWrite } from '../../api/hooks'
import { Problem } from '../../ui/feedback'
import { Button } from '../../ui/parts'
import { useUnits } from '../../ui/units'
import { useQueryClient } from '@tanstack/react-query'

/** The comparison as one table; the figures are the server's. */
export function ArmsTable({ experiment }: { experiment: Schema<'ExperimentOut'> }) {
  const { showSpeed } = useUnits()
  const cell = 'border-t border-line py-2 pr-3 align-top'
  return (
    <div className="overflow-x-auto">
      <table className="w-full text-left">
        <thead className="text-sm text-soft">
          <tr>
            {['Coat', 'Pieces', 'Clean cells', 'Best of all', 'Fastest clean', 'Next'].map((head) => (
              <th key={head} scope="col" className="pr-3 pb-1 font-normal">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {experiment.arms.map((arm) => (
            <tr key={arm.job.id}>
              <th scope="row" className={`${cell} font-bold`}>
                <Link className="underline underline-offset-4" to={`/jobs/${arm.job.id}/coat`}>
                  {arm.label}
                </Link>
              </th>
              <td className={`${cell} font-mono`}>
                {arm.pieces} of {experiment.replicates}
              </td>
              <td className={`${cell} font-mono`}>
                {arm.cells ? (
                  <>
                    {arm.clean} of {arm.cells}
                    <span className="block text-sm text-soft">
                      {Math.round(100 * arm.low)}–{Math.round(100 * arm.high)} %
                    </span>
                  </>
                ) : (
                  '–'
                )}
              </td>
              <td className={`${cell} font-mono`}>{arm.cells ? `${Math.round(100 * arm.best)} %` : '–'}</td>
              <td className={`${cell} font-mono`}>
                {arm.fastest_clean_mm_s === null ? '–' : showSpeed(arm.fastest_clean_mm_s)}
              </td>
              <td className={cell}>
                <NextOfArm arm={arm} replicates={experiment.replicates} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

function NextOfArm({ arm, replicates }: { arm: Schema<'ArmOut'>; replicates: number }) {
  const client = useQueryClient()
  const again = useJobWrite(arm.job.id, () =>
    body(api.POST('/api/jobs/{job_id}/grids/again', { params: { path: { job_id: arm.job.id } } })),
  )
  if (arm.job.grid?.state === 'rated' && arm.pieces < replicates)
    return (
      <>
        <Button
          disabled={again.isPending}
          onClick={() =>
            again.mutate(undefined, {
              onSuccess: () => fetchAnew.these(client, keys.experiments),
            })
          }
        >
          Same grid, next piece
        </Button>
        {again.error && <Problem error={again.error} />}
      </>
    )
  if (arm.job.grid?.state === 'rated') return <span className="text-soft">done</span>
  return (
    <Link className="underline underline-offset-4" to={`/jobs/${arm.job.id}/${arm.job.next.chapter}`}>
      {arm.job.next.title}
    </Link>
  )
}
