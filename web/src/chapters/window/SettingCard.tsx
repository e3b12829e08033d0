import { Lock } from 'lucide-react'
import { useNavigate } from 'react-router'
import { api, body, type Schema } from '../../api/client'
import { useJobWrite } from '../../api/hooks'
import type { Job } from '../../api/types'
import { Problem } from '../../ui/feedback'
import { Button, Card, LinkButton } from '../../ui/parts'
import { useUnits } from '../../ui/units'
import { EvidenceSteps } from './EvidenceSteps'
import { useNextCells } from './useNextCells'

type Point = Schema<'PointOut'>

const setting = (p: Point): Schema<'SettingIn'> => ({
  power_pct: p.power_pct,
  speed_mm_s: p.speed_mm_s,
  interval_mm: p.interval_mm,
  passes: p.passes,
})

/** The setting in large type, and the one thing to do with it: lock, confirm, or burn the next cells. */
export function SettingCard({
  job,
  data,
  point,
  own,
  back,
}: {
  job: Job
  data: Schema<'WindowOut'>
  point: Point | undefined
  own: boolean
  back: () => void
}) {
  const navigate = useNavigate()
  const best = data.recommendation
  const sure = best.verdict === 'sure'
  const lock = useJobWrite(job.id, (input: Schema<'LockIn'>) =>
    body(api.POST('/api/jobs/{job_id}/window/lock', { params: { path: { job_id: job.id } }, body: input })),
  )
  const next = useNextCells(job, data)
  const lockIt = (p: Point) =>
    lock.mutate(
      { ...setting(p), art: data.art, version: data.job_version, evidence_mark: data.evidence_mark },
      { onSuccess: () => void navigate(`/jobs/${job.id}/run`) },
    )
  const busy = lock.isPending || next.isPending
  const title = own
    ? 'Your own pick'
    : sure
      ? 'Setting to lock'
      : best.point
        ? 'Best so far'
        : 'No clean setting in reach'
  const confirmed = data.evidence === 'confirmed' || data.evidence === 'proven'
  const lockAnyway = !sure && !own && point && (
    <Button
      look={best.lock_now ? 'main' : 'plain'}
      className="w-full"
      disabled={!data.can_lock || busy}
      onClick={() => lockIt(point)}
    >
      {best.lock_now ? 'Lock it as it is' : 'Lock it all the same'}
    </Button>
  )
  return (
    <Card accent title={title}>
      {point ? (
        <Figure point={point} range={own ? null : best.power_range_pct} />
      ) : (
        <p className="text-lg">{own ? 'Reading the map …' : best.advice}</p>
      )}
      {point && <p className="mt-2 text-sm text-soft">{data.fit.scatter_words}</p>}
      {!own && point && best.advice && <p className="mt-2 text-soft">{best.advice}</p>}
      <div className="mt-4 grid gap-2">
        {best.lock_now && lockAnyway}
        {!sure && !own && (
          <Button
            look={best.lock_now ? 'plain' : 'main'}
            className="w-full text-lg"
            disabled={!data.can_lock || busy}
            onClick={() => next.draw({ kind: 'next' })}
          >
            Draw the next cells
          </Button>
        )}
        {point && (own || sure) && (
          <Button
            look="main"
            className="w-full text-lg"
            disabled={!data.can_lock || busy}
            onClick={() => lockIt(point)}
          >
            <Lock aria-hidden className="size-5" /> Lock{' '}
            {data.art === 'strokes' ? 'for strokes' : 'this setting'}
          </Button>
        )}
        {point && (own || !confirmed) && (
          <Button
            className="w-full"
            disabled={!data.can_lock || busy}
            onClick={() => next.draw({ kind: 'confirm', at: setting(point) })}
          >
            Confirm on a full patch first
          </Button>
        )}
        {!best.lock_now && lockAnyway}
        {own && (
          <Button look="quiet" className="w-full" onClick={back}>
            Back to the {sure ? 'recommended' : 'best'} setting
          </Button>
        )}
      </div>
      {!data.can_lock && (
        <p className="mt-2 text-soft">
          {data.rated.length
            ? 'Rate all cells of the grid before you lock.'
            : 'Burn and rate some cells first.'}{' '}
          <LinkButton look="quiet" className="min-h-0! p-0!" to={`/jobs/${job.id}/grid`}>
            To the grid
          </LinkButton>
        </p>
      )}
      {lock.isError && <Problem error={lock.error} />}
      {next.error && <Problem error={next.error} />}
      <EvidenceSteps
        level={data.evidence}
        proven={data.proven}
        what={data.locked[0] ? `Locked version ${data.locked[0].version}` : 'This setting'}
      />
    </Card>
  )
}

function Figure({ point, range }: { point: Point; range: number[] | null }) {
  const { showSpeed, showInterval } = useUnits()
  const [speed, ...speedUnit] = showSpeed(point.speed_mm_s).split(' ')
  const clean = point.clean
  return (
    <>
      <p className="font-mono text-4xl leading-tight font-bold">
        {point.power_pct} % <span className="text-lg font-normal text-soft">power</span>
      </p>
      <p className="font-mono text-4xl leading-tight font-bold">
        {speed} <span className="text-lg font-normal text-soft">{speedUnit.join(' ')}</span>
      </p>
      <p className="mt-1 font-mono text-lg text-soft">
        {showInterval(point.interval_mm)}, {point.passes} {point.passes > 1 ? 'passes' : 'pass'}
      </p>
      <p className="mt-3 text-xl font-bold">Clean on about {Math.round(100 * clean.mid)} of 100 pieces</p>
      <p className="text-soft">
        between {Math.round(100 * clean.low)} and {Math.round(100 * clean.high)}, with your scatter
        {range && `; ${range[0]?.toFixed(1)} to ${range[1]?.toFixed(1)} % power will do`}
      </p>
    </>
  )
}
