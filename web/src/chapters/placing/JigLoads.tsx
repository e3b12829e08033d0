import { Download } from 'lucide-react'
import { useState } from 'react'
import type { Schema } from '../../api/client'
import { useJigLoads } from '../../api/hooks'
import type { Job } from '../../api/types'
import { JigView } from '../../drawing/JigView'
import { Findings, Loading, Problem } from '../../ui/feedback'
import { SelectField } from '../../ui/form'
import { FileLink } from '../../ui/parts'
import { LoadLanding } from '../practice/LandingCard'
import { JigSeat } from './JigSeat'
import { timeText } from './loads'

/** The batch in a jig of the shop: where it lies, and each load in the order in which it is burned. */
export function JigLoads({ job, jigId }: { job: Job; jigId: number }) {
  const found = useJigLoads(job.id, jigId)
  const [number, setNumber] = useState(1)
  if (found.isPending) return <Loading what="loads" />
  if (found.isError) return <Problem error={found.error} again={() => void found.refetch()} />
  const { kept, jig, lies, loads } = found.data
  const load = loads[number - 1] ?? loads[0] ?? []
  const labels = Object.fromEntries(
    load.map((s) => [s.pocket, `${s.pocket}: ${s.name || `piece ${s.piece}`}`]),
  )
  return (
    <>
      <JigView jig={jig} sheet={[kept.asked.sheet_width_mm, kept.asked.sheet_height_mm]} labels={labels} />
      <div className="mt-3 grid gap-x-6 gap-y-3 sm:grid-cols-2">
        <div>
          <JigSeat key={kept.version} job={job} kept={kept} lies={lies} />
        </div>
        <div className="min-w-0">
          <Findings list={found.data.findings} />
          <LoadPick loads={loads} number={number} pick={setNumber} />
          <p className="mt-2 text-sm">
            <span className="text-soft">Pockets in this order: </span>
            <span className="font-mono">{load.map((s) => s.pocket).join(' ')}</span>
          </p>
          <Warmth found={found.data} />
          <TakeLoad job={job} found={found.data} number={number} load={load} />
          {lies && found.data.warmth && <LoadLanding job={job} jigId={jigId} number={number} />}
        </div>
      </div>
    </>
  )
}

function LoadPick({
  loads,
  number,
  pick,
}: {
  loads: Schema<'SeatOut'>[][]
  number: number
  pick: (number: number) => void
}) {
  if (loads.length < 2) return <p className="font-bold">The whole batch lies in it at once.</p>
  const ends = (load: Schema<'SeatOut'>[]) => {
    const pieces = load.map((s) => s.piece)
    return `${Math.min(...pieces)} to ${Math.max(...pieces)}`
  }
  return (
    <SelectField label="Load" name="number" value={number} onChange={(e) => pick(Number(e.target.value))}>
      {loads.map((load, n) => (
        <option key={n} value={n + 1}>
          {n + 1} of {loads.length}: pieces {ends(load)}
        </option>
      ))}
    </SelectField>
  )
}

function Warmth({ found }: { found: Schema<'LoadsOut'> }) {
  const { warmth } = found
  if (!warmth)
    return (
      <p className="mt-2 text-sm text-soft">
        Once a setting is locked and an artwork chosen, time and warmth are reckoned, and the order lets
        neighbours cool.
      </p>
    )
  const [quick = 0, slow = 0] = warmth.cool_s
  return (
    <p className="mt-2 text-sm text-soft">
      Each takes about {timeText(warmth.seconds)} and warms by {warmth.rise_k.toFixed(0)} K at most.{' '}
      {found.closest_mm !== null &&
        `No piece comes nearer than ${found.closest_mm.toFixed(0)} mm to one that is still warm. `}
      {slow > 0
        ? `Wash, and fill the jig anew, ${timeText(quick)} to ${timeText(slow)} after the last one: never glass that is still warm.`
        : 'They can be washed at once.'}
    </p>
  )
}

function TakeLoad({
  job,
  found,
  number,
  load,
}: {
  job: Job
  found: Schema<'LoadsOut'>
  number: number
  load: Schema<'SeatOut'>[]
}) {
  const [from, setFrom] = useState<number | null>(null)
  const missing = !job.locked
    ? 'a locked setting'
    : !found.warmth
      ? 'an artwork for the mark'
      : !found.lies
        ? 'its crosses touched'
        : null
  if (missing) return <p className="mt-2 font-bold">The load’s file needs {missing}.</p>
  const on = load.some((s) => s.pocket === from) ? from : null
  const href = `/api/jobs/${job.id}/jigs/${found.kept.id}/load.gcode?number=${number}${on === null ? '' : `&from_pocket=${on}`}`
  return (
    <>
      <p className="mt-2 text-sm text-soft">
        Eyewear on, extraction running, someone beside it. These are aids, no clearance: local rules come
        first.
      </p>
      <div className="mt-2 flex flex-wrap items-end gap-2">
        <FileLink href={href}>
          <Download aria-hidden className="size-4" /> Load {number}, G-code
        </FileLink>
        <div className="w-44">
          <SelectField
            label="Stopped? Go on from"
            name="from_pocket"
            value={on ?? ''}
            onChange={(e) => setFrom(e.target.value ? Number(e.target.value) : null)}
          >
            <option value="">the start</option>
            {load.slice(1).map((s) => (
              <option key={s.pocket} value={s.pocket}>
                pocket {s.pocket}
                {s.name && `, ${s.name}`}
              </option>
            ))}
          </SelectField>
        </div>
      </div>
    </>
  )
}
