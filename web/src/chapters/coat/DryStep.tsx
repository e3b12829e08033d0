import { useState } from 'react'
import { api, body } from '../../api/client'
import { useJobWrite } from '../../api/hooks'
import { DryingCard } from './DryingCard'
import { turnText } from '../../drawing/DryingLine'
import { RoomForm } from './RoomForm'
import { Problem } from '../../ui/feedback'
import { RefusalScope, TypedField } from '../../ui/form'
import { Button, Card, Chapter, Figures, LinkButton } from '../../ui/parts'
import { clock, dayAndClock } from '../../ui/units'
import { countdown, useServerNow } from '../../ui/useNow'
import { Cautions } from './Cautions'
import type { StepProps } from './steps'
import { piecesText } from './words'

export default function DryStep({ job, plan }: StepProps) {
  const { drying, correction } = plan
  const now = useServerNow(drying.now)
  return (
    <Chapter
      doing={
        <>
          <Countdown job={job} plan={plan} now={now} />
          <Looks job={job} plan={plan} />
          <Card title="Room">
            <RoomForm room={plan.room} />
          </Card>
        </>
      }
      seeing={
        <>
          <DryingCard
            jobs={[{ ...job, drying }]}
            turns={plan.turns}
            now={now}
            empty={
              drying.coats_on ? 'Nothing is wet.' : 'Nothing is on yet; the line begins with the first coat.'
            }
          />
          {plan.turns.length > 0 && (
            <Card title="One pair of hands, in order">
              <ol className="grid gap-1">
                {plan.turns.slice(0, 12).map((turn) => (
                  <li key={`${turn.number}-${turn.first}`} className="flex justify-between gap-3">
                    <span>{turnText(turn)}</span>
                    <span className="font-mono text-soft">to {clock(turn.end)}</span>
                  </li>
                ))}
              </ol>
              <p className="mt-2 text-sm text-soft">
                Nothing is coated before the coat under it is dry by the clock. Minutes a piece are our
                estimate.
              </p>
            </Card>
          )}
        </>
      }
      why={
        <>
          <Card title="Where the time comes from">
            <Figures
              rows={[
                ['Against 20 °C, 50 %', `×\u00a0${plan.drying_factor.toFixed(2)}`],
                ['Your own record', `×\u00a0${correction.factor.toFixed(2)}`],
                ['between', `${correction.low.toFixed(2)} and ${correction.high.toFixed(2)}`],
                ['from looks', String(correction.records)],
                ['Carrier', plan.carrier],
              ]}
            />
            <p className="mt-2 text-sm text-soft">Makers’ times: {plan.times_source}</p>
            <p className="mt-1 text-sm text-soft">
              {plan.carrier === 'water'
                ? 'Water leaves with the wet-bulb depression of the room’s air (ASHRAE), so damp and cold take longer.'
                : plan.carrier === 'none'
                  ? 'Nothing has to leave this layer.'
                  : 'It leaves with its vapour pressure: cold takes longer, damp does not.'}{' '}
              A model, good to about half: touch an edge.
            </p>
          </Card>
          <Cautions plan={plan} steps={['dry']} />
        </>
      }
    />
  )
}

function Countdown({ job, plan, now }: StepProps & { now: number }) {
  const { drying } = plan
  const all = plan.pieces + plan.spares
  const who = piecesText(drying.first, drying.last, all)
  const waiting = drying.next_at !== null && Date.parse(drying.next_at) > now
  if (!drying.coats_on)
    return (
      <Card accent title="Next">
        <p className="text-3xl leading-tight font-bold">Put on coat 1</p>
        <LinkButton look="main" className="mt-4 w-full text-lg" to={`/jobs/${job.id}/coat/apply`}>
          To the coats
        </LinkButton>
      </Card>
    )
  if (!waiting && drying.all_on)
    return (
      <Card accent title="Next">
        <p className="text-3xl leading-tight font-bold">{drying.seen_dry ? 'Dry' : 'Dry by the clock'}</p>
        <p className="mt-2 text-soft">
          It may be burned. Touch an edge first: chalky is dry, cool is not. The clock is an estimate.
        </p>
        <LinkButton look="main" className="mt-4 w-full text-lg" to={`/jobs/${job.id}/coat/prove`}>
          Prove the coat
        </LinkButton>
        <LinkButton className="mt-3 w-full" to={`/jobs/${job.id}/grid`}>
          To the grid
        </LinkButton>
      </Card>
    )
  return (
    <Card accent title={waiting ? 'Drying' : 'Next'}>
      {waiting && drying.next_at && drying.earliest_at && drying.latest_at ? (
        <>
          <p className="font-mono text-4xl font-bold" role="timer">
            {countdown(drying.next_at, now)}
          </p>
          <p className="mt-1">
            until{' '}
            {drying.coats_on >= drying.coats_planned ? 'it may be burned' : `coat ${drying.coats_on + 1}`}, at{' '}
            {dayAndClock(drying.next_at)}
          </p>
          <p className="text-sm text-soft">
            {who}; between {clock(drying.earliest_at)} and {dayAndClock(drying.latest_at)}
          </p>
          <LinkButton className="mt-4 w-full" to={`/jobs/${job.id}/grid`}>
            Meanwhile, draw the grid
          </LinkButton>
        </>
      ) : (
        <>
          <p className="text-3xl leading-tight font-bold">Put on coat {drying.coats_on + 1}</p>
          <p className="text-soft">{who}</p>
          <LinkButton look="main" className="mt-4 w-full text-lg" to={`/jobs/${job.id}/coat/apply`}>
            To the coats
          </LinkButton>
        </>
      )}
    </Card>
  )
}

/** “Dry” and “still wet”, seen by the maker: they move the clock now and correct it next time. */
function Looks({ job, plan }: StepProps) {
  const [at, setAt] = useState('')
  const look = useJobWrite(job.id, ({ stamp_id, dry }: { stamp_id: number; dry: boolean }) =>
    body(
      api.POST('/api/jobs/{job_id}/coat/stamps/{stamp_id}/looks', {
        params: { path: { job_id: job.id, stamp_id } },
        body: { dry, at: at ? todayAt(at) : null },
      }),
    ),
  )
  const all = plan.pieces + plan.spares
  const wet = plan.steps
    .flatMap((step) => step.stamps)
    .filter(
      (stamp) =>
        !stamp.seen_dry_at &&
        !plan.steps.some((s) =>
          s.stamps.some(
            (over) => over.number > stamp.number && over.first <= stamp.last && over.last >= stamp.first,
          ),
        ),
    )
  if (!wet.length) return null
  return (
    <Card title="What you see">
      <RefusalScope error={look.error}>
        <TypedField
          label="Seen at"
          name="at"
          type="time"
          value={at}
          set={setAt}
          help="Left empty: now. It corrects this coat’s times in your workshop."
        />
      </RefusalScope>
      <ul className="mt-3 grid gap-3">
        {wet.map((stamp) => (
          <li key={stamp.id}>
            <p className="mb-1">
              Coat {stamp.number}, {piecesText(stamp.first, stamp.last, all)}
            </p>
            <div className="grid grid-cols-2 gap-2">
              <Button
                disabled={look.isPending}
                onClick={() => look.mutate({ stamp_id: stamp.id, dry: true }, { onSuccess: () => setAt('') })}
              >
                It is dry
              </Button>
              <Button
                disabled={look.isPending}
                onClick={() =>
                  look.mutate({ stamp_id: stamp.id, dry: false }, { onSuccess: () => setAt('') })
                }
              >
                Still wet
              </Button>
            </div>
          </li>
        ))}
      </ul>
      {look.error && <Problem error={look.error} />}
    </Card>
  )
}

/** A clock time of the last 24 hours, as an instant. */
function todayAt(time: string): string {
  const [hours, minutes] = time.split(':').map(Number)
  const date = new Date()
  date.setHours(hours ?? 0, minutes ?? 0, 0, 0)
  if (date.getTime() > Date.now() + 60_000) date.setDate(date.getDate() - 1)
  return date.toISOString()
}
