import { useDeferredValue, useState } from 'react'
import { usePoint, useWindow, type Slice } from '../../api/hooks'
import type { Schema } from '../../api/client'
import type { Job } from '../../api/types'
import { Empty, Loading, Problem } from '../../ui/feedback'
import { Card, Chapter, Figures, LinkButton } from '../../ui/parts'
import { RATING_INK, RatingIcon, type Rating } from '../../drawing/RatingMark'
import { dayAndClock, showEnergy, showMinutes, useUnits } from '../../ui/units'
import { BegunFrom } from './BegunFrom'
import { CarryCard } from './CarryCard'
import { DriftCard } from './DriftCard'
import { OlderLockCard } from './OlderLockCard'
import { OpenersCard } from './OpenersCard'
import { OthersCard } from './OthersCard'
import { SettingCard } from './SettingCard'
import { SlicePick } from './SlicePick'
import { LearnsTick } from './LearnsTick'
import { useSearch } from './useSearch'
import { LockedIcon } from '../../drawing/LockedMark'
import { WindowMap, type MapPlace } from '../../drawing/WindowMap'

export default function WindowChapter({ job }: { job: Job }) {
  const [slice, setSlice] = useState<Slice>({ passes: 1, film_share: 1 })
  const window = useWindow(job.id, slice)
  if (window.isPending) return <Loading what="window" />
  if (window.isError && !window.data)
    return <Problem error={window.error} again={() => setSlice({ passes: 1, film_share: 1 })} />
  const data = window.data
  if (!data.rated.length && !data.sources.length)
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
  return <ReadWindow job={job} data={data} slice={slice} setSlice={setSlice} />
}

function ReadWindow({
  job,
  data,
  slice,
  setSlice,
}: {
  job: Job
  data: Schema<'WindowOut'>
  slice: Slice
  setSlice: (slice: Slice) => void
}) {
  const best = data.recommendation
  const [own, setOwn] = useState<MapPlace | null>(null)
  const spot = own ?? (best.point && { power_pct: best.point.power_pct, speed_mm_s: best.point.speed_mm_s })
  const asked = useDeferredValue(own)
  const reading = usePoint(
    job.id,
    data.art,
    asked && { ...asked, interval_mm: data.interval_mm, passes: data.passes },
  )
  const point = own ? reading.data : (best.point ?? undefined)
  const cut = (next: Slice) => {
    setOwn(null)
    setSlice(next)
  }
  const readAnew = ({ interval_mm, passes = 1, power_pct, speed_mm_s }: Schema<'SettingOut'>) => {
    setSlice({ ...slice, interval_mm, passes })
    setOwn({ power_pct, speed_mm_s })
  }
  return (
    <Chapter
      doing={
        <>
          <SettingCard job={job} data={data} point={point} own={own !== null} back={() => setOwn(null)} />
          {reading.isError && own && <Problem error={reading.error} />}
          {best.openers.length > 0 && <OpenersCard job={job} data={data} look={cut} />}
        </>
      }
      seeing={
        <>
          <Card
            title="Window"
            aside={
              <span className="flex flex-wrap gap-4 text-sm">
                {(['faint', 'clean', 'harsh'] as Rating[]).map((rating) => (
                  <span key={rating} className={`flex items-center gap-1.5 ${RATING_INK[rating]}`}>
                    <RatingIcon rating={rating} /> {rating}
                  </span>
                ))}
                {data.locked.length > 0 && (
                  <span className="flex items-center gap-1.5">
                    <LockedIcon /> locked
                  </span>
                )}
              </span>
            }
          >
            <SlicePick job={job} data={data} slice={slice} cut={cut} />
            <WindowMap data={data} place={spot} pick={setOwn} reset={() => setOwn(null)} />
            {data.peak_words && <p className="mt-3 max-w-prose">{data.peak_words}</p>}
          </Card>
          <div className={`grid items-start gap-4 ${best.others.length > 0 ? 'xl:grid-cols-2' : ''}`}>
            {best.others.length > 0 && (
              <OthersCard others={best.others} pick={setOwn} look={cut} data={data} />
            )}
            {(data.rated.length > 0 || data.locked.length > 0) && <CarryCard job={job} data={data} />}
          </div>
        </>
      }
      why={
        <>
          {data.older && <OlderLockCard older={data.older} today={data.fit.model_version} read={readAnew} />}
          {data.drift && <DriftCard drift={data.drift} />}
          {point && <Here point={point} />}
          <HowSure job={job} data={data} />
          <LikeCard data={data} />
          <LockedCard data={data} />
        </>
      }
    />
  )
}

function Here({ point }: { point: Schema<'PointOut'> }) {
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

function HowSure({ job, data }: { job: Job; data: Schema<'WindowOut'> }) {
  const { fit, recommendation: best } = data
  const search = useSearch(job.id).data
  return (
    <Card title="How sure, and from what">
      <p>{fit.message}</p>
      <Figures
        rows={[
          ['Any setting keeps it', `${(100 * best.open_share).toFixed(0)} in 100`],
          ...(best.point
            ? ([['This one does', `${(100 * best.held).toFixed(0)} in 100`]] as [string, string][])
            : []),
          ['Pieces, cells', `${fit.pieces}, ${fit.cells}`],
          ...(search?.pieces
            ? ([
                ['Burned for it', showMinutes(search.burn_min)],
                ['The search cost', `about ${Number(search.cost).toFixed(2)} ${search.currency}`],
              ] as [string, string][])
            : []),
        ]}
      />
      <p className="mt-2 text-sm text-soft">
        Begun from {showEnergy(fit.prior_centre_j_mm2)} at 1 ms dwell. {fit.prior_source} Scatter from piece
        to piece: {fit.scatter_pct.toFixed(0)} % in energy. Judged for fills of {data.fill_mm.toFixed(0)} mm.
      </p>
      {data.begun_from && (
        <p className="mt-2 text-sm text-soft">
          Begun from a card of {data.begun_from.workshop || 'another workshop'}:{' '}
          {showEnergy(data.begun_from.energy_j_mm2)}, taken to be right within a factor of{' '}
          {data.begun_from.within_factor.toFixed(1)}. A hint, no fact: your own cells decide.
        </p>
      )}
      {data.begun && <BegunFrom begun={data.begun} sources={data.sources} />}
      <LearnsTick job={job} begun={data.begun} />
      <p className="mt-2 text-sm text-soft">An estimate, never a promise. Model {fit.model_version}.</p>
    </Card>
  )
}

function LikeCard({ data }: { data: Schema<'WindowOut'> }) {
  const { showSpeed } = useUnits()
  if (!data.like.length) return null
  return (
    <Card title="Your windows most like this">
      {data.like.map((w) => (
        <p key={w.job_id} className="border-b border-line py-1.5 last:border-0">
          <LinkButton look="quiet" className="min-h-0! justify-start! p-0!" to={`/jobs/${w.job_id}/window`}>
            {w.name}
          </LinkButton>
          <span className="block text-sm text-soft">{w.words}</span>
          {w.setting && (
            <span className="block font-mono text-sm">
              {w.setting.power_pct} %, {showSpeed(w.setting.speed_mm_s)}
            </span>
          )}
        </p>
      ))}
    </Card>
  )
}

function LockedCard({ data }: { data: Schema<'WindowOut'> }) {
  const { showSpeed } = useUnits()
  if (!data.locked.length) return null
  return (
    <Card title="Locked so far">
      {data.locked.map((l) => (
        <p key={l.version} className="border-b border-line py-1.5 last:border-0">
          <b>Version {l.version}</b>, {dayAndClock(l.at)}
          <br />
          <span className="font-mono">
            {l.power_pct} %, {showSpeed(l.speed_mm_s)}
          </span>
          {l.strokes && (
            <span className="block text-sm text-soft">
              fine strokes{' '}
              <span className="font-mono">
                {l.strokes.power_pct} %, {showSpeed(l.strokes.speed_mm_s)}
              </span>
            </span>
          )}
        </p>
      ))}
    </Card>
  )
}
