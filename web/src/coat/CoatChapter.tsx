import { Check } from 'lucide-react'
import { api, body, type Schema } from '../api/client'
import { useCoatPlan, useJobWrite } from '../api/hooks'
import type { Job } from '../jobs/JobPage'
import { PieceOutline } from '../jobs/PieceOutline'
import { Loading, Problem } from '../ui/feedback'
import { Button, Card, Chapter, Figures, LinkButton } from '../ui/parts'
import { clock, dayAndClock } from '../ui/units'
import { countdown, useServerNow } from '../ui/useNow'

type Plan = Schema<'CoatPlan'>

export default function CoatChapter({ job }: { job: Job }) {
  const plan = useCoatPlan(job.id)
  const path = { params: { path: { job_id: job.id } } }
  const mixed = useJobWrite(job.id, () =>
    body(api.POST('/api/jobs/{job_id}/coat/lots', { ...path, body: { note: '' } })),
  )
  const put = useJobWrite(job.id, (number: number) =>
    body(api.POST('/api/jobs/{job_id}/coat/stamps', { ...path, body: { number } })),
  )
  const take = useJobWrite(job.id, (number: number) =>
    body(
      api.DELETE('/api/jobs/{job_id}/coat/stamps/{number}', { params: { path: { job_id: job.id, number } } }),
    ),
  )
  const now = useServerNow(plan.data?.drying.now)
  if (plan.isPending) return <Loading what="coat plan" />
  if (plan.isError) return <Problem error={plan.error} again={() => void plan.refetch()} />
  const p = plan.data
  const failed = mixed.error ?? put.error ?? take.error
  if (!p.put_on)
    return (
      <Chapter
        doing={
          <Card accent title="Nothing to put on">
            <p className="text-2xl font-bold">The coat comes on the piece</p>
            <p className="mt-2 text-soft">{p.why}</p>
            <LinkButton look="main" className="mt-4 w-full" to={`/jobs/${job.id}/grid`}>
              To the grid
            </LinkButton>
          </Card>
        }
        seeing={
          <Card>
            <PieceOutline piece={job} />
          </Card>
        }
        why={<Cautions plan={p} />}
      />
    )
  return (
    <Chapter
      doing={
        <>
          <NextCoat job={job} plan={p} now={now} put={(n) => put.mutate(n)} busy={put.isPending} />
          {failed && <Problem error={failed} />}
          <Card title={`Mix for ${p.pieces} pieces and ${p.spares} spares`}>
            {p.mix && (
              <>
                <p className="font-mono text-3xl font-bold">{p.mix.total_ml.toFixed(0)} ml</p>
                <p className="text-soft">
                  {p.mix.low_ml.toFixed(0)} to {p.mix.high_ml.toFixed(0)} ml, by how it goes on
                </p>
                <Figures rows={p.mix.parts.map((part) => [part.name, `${part.ml.toFixed(1)} ml`])} />
              </>
            )}
            <Button
              className="mt-3 w-full"
              disabled={mixed.isPending}
              onClick={() => mixed.mutate(undefined)}
            >
              {p.lots.length ? 'Mixed another lot' : 'Mixed: record the lot'}
            </Button>
            {p.lots.map((lot) => (
              <p key={lot.code} className="mt-2 text-sm text-soft">
                Lot <span className="font-mono font-bold text-ink">{lot.code}</span>,{' '}
                {dayAndClock(lot.mixed_at)}
                {lot.note && `, ${lot.note}`}
              </p>
            ))}
          </Card>
        </>
      }
      seeing={
        <Card title="Coats, one by one">
          <ol className="grid gap-3">
            {p.steps.map((step) => {
              const on = step.put_on_at
              const last = step.number === p.drying.coats_on
              return (
                <li
                  key={step.number}
                  className="grid grid-cols-[5.5rem_minmax(0,1fr)] items-center gap-4 border-b border-line pb-3 last:border-0"
                >
                  <BrushPicture degrees={step.direction_deg} tool={p.tool} />
                  <div>
                    <p className="text-lg font-bold">
                      Coat {step.number}
                      {on && <Check aria-label="is on" className="ml-2 inline size-5 text-glaze" />}
                    </p>
                    <p>
                      {p.tool}, {step.direction_deg ? 'across the last coat' : 'along the long side'}
                    </p>
                    <p className="text-soft">
                      then {spanText(step)} {step.then_burn ? 'before it may be burned' : 'to the next coat'}
                    </p>
                    {on && (
                      <p className="text-sm text-soft">
                        on since {dayAndClock(on)}
                        {last && (
                          <Button
                            look="quiet"
                            disabled={take.isPending}
                            onClick={() => take.mutate(step.number)}
                          >
                            take back
                          </Button>
                        )}
                      </p>
                    )}
                  </div>
                </li>
              )
            })}
          </ol>
        </Card>
      }
      why={
        <>
          <Card title="Why this coat">
            <p>{p.why}</p>
            <div className="mt-3">
              <Figures
                rows={[
                  ['Coated area', `${p.coated_cm2.toFixed(0)} cm²`],
                  ['Dry film', `${p.mix?.dry_film_um.toFixed(0) ?? '–'} µm`],
                  ['Each piece, a coat', `${p.mix?.per_piece_coat_ml.toFixed(1) ?? '–'} ml`],
                ]}
              />
            </div>
            <p className="mt-2 text-sm text-soft">Film: {p.mix_source}</p>
            <p className="mt-1 text-sm text-soft">
              Times: {p.times_source} For about 20 °C and 50 % humidity; damp or cold takes longer.
            </p>
            <p className="mt-1 text-sm text-soft">Comes off with: {p.removal}.</p>
          </Card>
          <Cautions plan={p} />
        </>
      }
    />
  )
}

function NextCoat({
  job,
  plan,
  now,
  put,
  busy,
}: {
  job: Job
  plan: Plan
  now: number
  put: (number: number) => void
  busy: boolean
}) {
  const { drying } = plan
  const next = drying.coats_on + 1
  const waiting = drying.next_at !== null && new Date(drying.next_at).getTime() > now
  if (drying.all_on && !waiting)
    return (
      <Card accent title="Next">
        <p className="text-3xl font-bold">Dry by the clock</p>
        <p className="mt-2 text-soft">
          The coat may be burned. Touch an edge first: chalky is dry, cool is not. The clock is an estimate.
        </p>
        <LinkButton look="main" className="mt-4 w-full" to={`/jobs/${job.id}/grid`}>
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
            until {drying.all_on ? 'it may be burned' : `coat ${next}`}, at {dayAndClock(drying.next_at)}
          </p>
          <p className="text-sm text-soft">
            between {clock(drying.earliest_at)} and {dayAndClock(drying.latest_at)}, by weather and film
          </p>
        </>
      ) : (
        <p className="text-3xl leading-tight font-bold">Put on coat {next}</p>
      )}
      {!drying.all_on && (
        <Button
          look={waiting ? 'plain' : 'main'}
          className="mt-4 w-full text-lg"
          disabled={busy}
          onClick={() => put(next)}
        >
          {waiting ? `Coat ${next} is on already` : `Coat ${next} is on`}
        </Button>
      )}
      {drying.all_on && waiting && (
        <LinkButton className="mt-4 w-full" to={`/jobs/${job.id}/grid`}>
          Meanwhile, draw the grid
        </LinkButton>
      )}
    </Card>
  )
}

function Cautions({ plan }: { plan: Plan }) {
  return (
    <Card title="Mind">
      <ul className="grid gap-2">
        {plan.cautions.map((caution) => (
          <li key={caution}>{caution}</li>
        ))}
        <li>Hold pieces by the edges; a fingerprint shows in the mark.</li>
        <li className="text-sm text-soft">Labels, safety data sheets and local rules come first.</li>
      </ul>
    </Card>
  )
}

function spanText(step: Schema<'CoatStepOut'>): string {
  const text = (minutes: number) => (minutes < 120 ? `${minutes} min` : `${minutes / 60} h`)
  return step.wait_low_min === step.wait_high_min
    ? text(step.wait_min)
    : `${text(step.wait_low_min)} to ${text(step.wait_high_min)}`
}

/** Brush or spray strokes in their direction on the piece. */
function BrushPicture({ degrees, tool }: { degrees: number; tool: string }) {
  return (
    <svg viewBox="0 0 88 60" role="img" aria-label={`${tool}, strokes at ${degrees} degrees`}>
      <rect x="1" y="1" width="86" height="58" rx="4" className="fill-glass stroke-soft" />
      <g className="stroke-coat" strokeWidth="7" strokeLinecap="round">
        {degrees
          ? [14, 26, 38, 50, 62, 74].map((x) => <path key={x} d={`M${x} 9V51`} opacity={0.75} />)
          : [12, 24, 36, 48].map((y) => <path key={y} d={`M10 ${y}H78`} opacity={0.75} />)}
      </g>
      <path
        d={degrees ? 'M44 14V44M37 37L44 45L51 37' : 'M22 30H66M59 23L67 30L59 37'}
        className="fill-none stroke-ember"
        strokeWidth="3"
        strokeLinecap="round"
      />
    </svg>
  )
}
