import { Lock } from 'lucide-react'
import { useDeferredValue, useState } from 'react'
import { useNavigate } from 'react-router'
import { api, body, type Schema } from '../api/client'
import { useJobWrite, usePoint, useWindow } from '../api/hooks'
import type { Job } from '../jobs/JobPage'
import { Empty, Loading, Problem } from '../ui/feedback'
import { Button, Card, Chapter, Figures, LinkButton } from '../ui/parts'
import { RATING_INK, RatingIcon, type Rating } from '../ui/RatingMark'
import { dayAndClock, showEnergy, showMinutes, useUnits } from '../ui/units'
import { WindowMap, type Spot } from './WindowMap'

type WindowData = Schema<'WindowOut'>
type Point = Schema<'PointOut'>

export default function WindowChapter({ job }: { job: Job }) {
  const window = useWindow(job.id)
  if (window.isPending) return <Loading what="window" />
  if (window.isError) return <Problem error={window.error} again={() => void window.refetch()} />
  if (!window.data.rated.length)
    return (
      <Empty title="No cell is rated yet">
        <p>The window is read from rated cells.</p>
        <LinkButton
          look="main"
          className="mt-4"
          to={`/jobs/${job.id}/${job.grid?.burned_at ? 'reading' : 'grid'}`}
        >
          {job.grid?.burned_at ? 'Rate the cells' : 'To the grid'}
        </LinkButton>
      </Empty>
    )
  return <ReadWindow job={job} data={window.data} />
}

function ReadWindow({ job, data }: { job: Job; data: WindowData }) {
  const navigate = useNavigate()
  const best = data.recommendation
  const [own, setOwn] = useState<Spot | null>(null)
  const spot = own ?? (best.point && { power_pct: best.point.power_pct, speed_mm_s: best.point.speed_mm_s })
  const asked = useDeferredValue(own)
  const reading = usePoint(job.id, asked && { ...asked, interval_mm: data.interval_mm, passes: data.passes })
  const point = own ? reading.data : (best.point ?? undefined)
  const lock = useJobWrite(job.id, (setting: Schema<'LockIn'>) =>
    body(api.POST('/api/jobs/{job_id}/window/lock', { params: { path: { job_id: job.id } }, body: setting })),
  )
  const lockIt = (p: Point) =>
    lock.mutate(
      {
        power_pct: p.power_pct,
        speed_mm_s: p.speed_mm_s,
        interval_mm: p.interval_mm,
        passes: p.passes,
        version: data.job_version,
      },
      { onSuccess: () => void navigate(`/jobs/${job.id}/run`) },
    )
  const sure = best.verdict === 'sure'
  return (
    <Chapter
      doing={
        <>
          <Card
            accent
            title={
              own
                ? 'Your own pick'
                : sure
                  ? 'Setting to lock'
                  : best.point
                    ? 'Best so far'
                    : 'No clean setting in reach'
            }
          >
            {point ? (
              <Setting point={point} />
            ) : (
              <p className="text-lg">{own ? 'Reading the map …' : best.advice}</p>
            )}
            {point && (own || sure) && (
              <Button
                look="main"
                className="mt-4 w-full text-lg"
                disabled={!data.can_lock || lock.isPending}
                onClick={() => lockIt(point)}
              >
                <Lock aria-hidden className="size-5" /> Lock this setting
              </Button>
            )}
            {!sure && !own && (
              <LinkButton look="main" className="mt-4 w-full text-lg" to={`/jobs/${job.id}/grid`}>
                Draw the next grid
              </LinkButton>
            )}
            {!sure && !own && point && (
              <Button
                className="mt-2 w-full"
                disabled={!data.can_lock || lock.isPending}
                onClick={() => lockIt(point)}
              >
                Lock it all the same
              </Button>
            )}
            {own && (
              <Button look="quiet" className="w-full" onClick={() => setOwn(null)}>
                Back to the {sure ? 'recommended' : 'best'} setting
              </Button>
            )}
            {!data.can_lock && <p className="mt-2 text-soft">Rate all cells of the grid before you lock.</p>}
          </Card>
          {lock.isError && <Problem error={lock.error} />}
          {reading.isError && own && <Problem error={reading.error} />}
          <OtherSchool best={best} pick={setOwn} />
        </>
      }
      seeing={
        <Card
          title="Window"
          aside={
            <span className="flex flex-wrap gap-4 text-sm">
              {(['faint', 'clean', 'harsh'] as Rating[]).map((rating) => (
                <span key={rating} className={`flex items-center gap-1.5 ${RATING_INK[rating]}`}>
                  <RatingIcon rating={rating} /> {rating}
                </span>
              ))}
            </span>
          }
        >
          <WindowMap data={data} spot={spot} pick={setOwn} reset={() => setOwn(null)} />
        </Card>
      }
      why={
        <>
          {point && <Here point={point} />}
          <Card title="How sure, and from what">
            <p>{data.fit.message}</p>
            {best.point && best.advice && <p className="mt-2">{best.advice}</p>}
            <p className="mt-2 text-sm text-soft">
              Begun from {showEnergy(data.fit.prior_centre_j_mm2)} at 1 ms dwell. {data.fit.prior_source} Your
              scatter from piece to piece: {data.fit.scatter_pct.toFixed(0)} %, with {data.fit.pieces} test{' '}
              {data.fit.pieces === 1 ? 'piece' : 'pieces'} burned.
            </p>
            <p className="mt-2 text-sm text-soft">
              An estimate, never a promise. Model {data.fit.model_version}.
            </p>
          </Card>
          {data.locked.length > 0 && (
            <Card title="Locked so far">
              {data.locked.map((l) => (
                <p key={l.version} className="border-b border-line py-1.5 last:border-0">
                  <b>Version {l.version}</b>, {dayAndClock(l.at)}
                  <br />
                  <span className="font-mono">
                    {l.power_pct} %, {l.speed_mm_s} mm/s
                  </span>
                </p>
              ))}
            </Card>
          )}
        </>
      }
    />
  )
}

function Setting({ point }: { point: Point }) {
  const { showSpeed, showInterval } = useUnits()
  const [speed, ...speedUnit] = showSpeed(point.speed_mm_s).split(' ')
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
      <p className="mt-3 text-xl font-bold">
        Clean on about {Math.round(100 * point.clean.mid)} of 100 pieces
      </p>
      <p className="text-soft">
        between {Math.round(100 * point.clean.low)} and {Math.round(100 * point.clean.high)}, with your
        scatter
      </p>
    </>
  )
}

function Here({ point }: { point: Point }) {
  const margin = (range: Schema<'RangeOut'>) =>
    `${range.mid.toFixed(0)} (${range.low.toFixed(0)} to ${range.high.toFixed(0)}) %`
  return (
    <Card title="At this setting">
      <Figures
        rows={[
          ['Areal energy', showEnergy(point.energy_j_mm2)],
          ['Dwell', `${point.dwell_ms.toFixed(2)} ms`],
          ['Scan time', `${showMinutes(point.minutes_per_dm2)}/dm²`],
          ['Faint, harsh', `${(100 * point.faint).toFixed(0)}, ${(100 * point.harsh).toFixed(0)} %`],
        ]}
      />
      <p className="mt-3 text-sm font-bold text-soft">Margins, of its energy</p>
      <Figures
        rows={[
          ['to faint', margin(point.margin_to_faint_pct)],
          ['to harsh', point.harsh_beyond_machine ? 'beyond this laser' : margin(point.margin_to_harsh_pct)],
        ]}
      />
    </Card>
  )
}

function OtherSchool({ best, pick }: { best: Schema<'RecommendationOut'>; pick: (spot: Spot) => void }) {
  const fastest = best.fastest_clean
  if (!fastest || !best.why_not_faster) return null
  return (
    <Card title="Why not the fastest clean cell">
      <p>{best.why_not_faster}</p>
      <Button className="mt-3 w-full" onClick={() => pick(fastest)}>
        Look at {best.fastest_clean_code}
      </Button>
    </Card>
  )
}
