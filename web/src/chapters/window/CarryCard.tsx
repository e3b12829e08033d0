import { useState } from 'react'
import { useNavigate } from 'react-router'
import { api, body, type Schema } from '../../api/client'
import { useCarry, useJobWrite, useMachines } from '../../api/hooks'
import type { Job } from '../../api/types'
import { Problem } from '../../ui/feedback'
import { RefusalScope, SelectField, TypedField } from '../../ui/form'
import { Button, Card } from '../../ui/parts'
import { figure, inUnit, toBase, useUnits } from '../../ui/units'

/** The same work on another machine, with other lines, passes or film: what the window says there. */
export function CarryCard({ job, data }: { job: Job; data: Schema<'WindowOut'> }) {
  const navigate = useNavigate()
  const machines = useMachines().data ?? []
  const { interval, showSpeed } = useUnits()
  const [machine, setMachine] = useState(job.machine_id)
  const [lines, setLines] = useState(figure(inUnit(data.interval_mm, interval), interval.decimals))
  const [passes, setPasses] = useState(data.passes)
  const [film, setFilm] = useState('100')
  const [wish, setWish] = useState<Schema<'CarryIn'> | null>(null)
  const carried = useCarry(job.id, wish)
  const make = useJobWrite(job.id, (input: Schema<'CarryIn'>) =>
    body(
      api.POST('/api/jobs/{job_id}/window/carry/job', { params: { path: { job_id: job.id } }, body: input }),
    ),
  )
  const typed: Schema<'CarryIn'> = {
    machine_id: machine,
    interval_mm: toBase(Number(lines), interval),
    passes,
    film_share: Number(film) / 100,
  }
  const usable = Number.isFinite(typed.interval_mm) && Number.isFinite(typed.film_share)
  const there = carried.data
  return (
    <RefusalScope error={carried.error ?? make.error}>
      <Card title="Carry this window over">
        <p className="mb-3 text-soft">
          What it says on another machine of this beam, with other lines, passes or film.
        </p>
        <div className="grid gap-3">
          {machines.length > 0 && (
            <SelectField
              label="Machine"
              name="machine_id"
              value={machine}
              onChange={(e) => setMachine(Number(e.target.value))}
            >
              {machines.every((m) => m.id !== job.machine_id) && (
                <option value={job.machine_id}>{job.machine}</option>
              )}
              {machines.map((m) => (
                <option key={m.id} value={m.id}>
                  {m.name}, {m.rated_w} W
                </option>
              ))}
            </SelectField>
          )}
          <div className="grid grid-cols-3 gap-2">
            <TypedField
              label="Lines"
              name="interval_mm"
              unit={interval.label}
              inputMode="decimal"
              value={lines}
              set={setLines}
            />
            <SelectField
              label="Passes"
              name="passes"
              value={passes}
              onChange={(e) => setPasses(Number(e.target.value))}
            >
              {[1, 2, 3, 4].map((n) => (
                <option key={n}>{n}</option>
              ))}
            </SelectField>
            <TypedField
              label="Film"
              name="film_share"
              unit="%"
              inputMode="decimal"
              value={film}
              set={setFilm}
            />
          </div>
          <Button disabled={!usable || carried.isFetching} onClick={() => setWish(typed)}>
            Predict it there
          </Button>
        </div>
        {carried.isError && <Problem error={carried.error} />}
        {there && wish && (
          <div className="mt-4">
            <p className="font-mono text-2xl font-bold">
              {there.point.power_pct} %, {showSpeed(there.point.speed_mm_s)}
            </p>
            <p className="text-sm text-soft">on {there.machine}</p>
            <p className="mt-1">
              Clean on about {Math.round(100 * there.point.clean.mid)} of 100 pieces, between{' '}
              {Math.round(100 * there.point.clean.low)} and {Math.round(100 * there.point.clean.high)}; the
              odds are {Math.round(100 * there.held)} in 100 that it keeps{' '}
              {Math.round(100 * data.recommendation.wanted_share)}.
            </p>
            <p className="mt-2 text-sm text-soft">
              To confirm it, burn {there.cells.length} cells there:{' '}
              <span className="font-mono">
                {there.cells.map((c) => `${c.power_pct} % ${showSpeed(c.speed_mm_s)}`).join(', ')}
              </span>
            </p>
            <Button
              className="mt-3 w-full"
              disabled={make.isPending}
              onClick={() =>
                make.mutate(wish, { onSuccess: (made) => void navigate(`/jobs/${made.id}/window`) })
              }
            >
              Make a job there
            </Button>
            {make.isError && <Problem error={make.error} />}
          </div>
        )}
      </Card>
    </RefusalScope>
  )
}
