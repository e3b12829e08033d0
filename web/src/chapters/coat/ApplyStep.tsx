import { Check } from 'lucide-react'
import { useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import { useJobWrite } from '../../api/hooks'
import { Problem } from '../../ui/feedback'
import { RefusalScope, SelectField, TypedField } from '../../ui/form'
import { Button, Card, Chapter, Figures, LinkButton } from '../../ui/parts'
import { dayAndClock } from '../../ui/units'
import { countdown, useServerNow } from '../../ui/useNow'
import { Cautions } from './Cautions'
import type { StepProps } from './steps'
import { StrokePicture } from '../../drawing/StrokePicture'
import { piecesText, RISK, spanText } from './words'

export default function ApplyStep({ job, plan }: StepProps) {
  const take = useJobWrite(job.id, (stamp_id: number) =>
    body(
      api.DELETE('/api/jobs/{job_id}/coat/stamps/{stamp_id}', {
        params: { path: { job_id: job.id, stamp_id } },
      }),
    ),
  )
  const all = plan.pieces + plan.spares
  const { tool } = plan
  return (
    <Chapter
      doing={
        <>
          <NextCoat
            key={`${plan.drying.first}-${plan.drying.last}-${plan.drying.coats_on}`}
            job={job}
            plan={plan}
          />
          {take.error && <Problem error={take.error} />}
          {plan.drying.groups.length > 1 && (
            <Card title="Where the pieces stand">
              <Figures
                rows={plan.drying.groups.map((group) => [
                  piecesText(group.first, group.last, all),
                  group.coats_on ? `${group.coats_on} of ${group.coats_planned}` : 'bare',
                ])}
              />
            </Card>
          )}
        </>
      }
      seeing={
        <Card title="Coats, one by one">
          <ol className="grid gap-3">
            {plan.steps.map((step) => (
              <li
                key={step.number}
                className="grid grid-cols-[5.5rem_minmax(0,1fr)] items-start gap-4 border-b border-line pb-3 last:border-0"
              >
                <StrokePicture degrees={step.direction_deg} motion={tool.motion} label={tool.label} />
                <div>
                  <p className="text-lg font-bold">
                    Coat {step.number}
                    {step.stamps.length > 0 && (
                      <Check aria-label="is on" className="ml-2 inline size-5 text-glaze" />
                    )}
                  </p>
                  <p>
                    {tool.label}
                    {tool.motion === 'brush' || tool.motion === 'spray'
                      ? `, ${step.direction_deg ? 'at 90°, across the last coat' : 'along the long side'}`
                      : ''}
                  </p>
                  <p className="text-soft">
                    then {spanText(step.wait_low_min, step.wait_min, step.wait_high_min)}{' '}
                    {step.then_burn ? 'before it may be burned' : 'to the next coat'}
                  </p>
                  {step.stamps.map((stamp) => (
                    <p key={stamp.id} className="text-sm text-soft">
                      {piecesText(stamp.first, stamp.last, all)} since {dayAndClock(stamp.at)}, lot{' '}
                      <span className="font-mono">{stamp.lot}</span>
                      {stamp.heat !== 'none' && ', with heat'}
                      <Button
                        look="quiet"
                        disabled={take.isPending}
                        aria-label={`take coat ${stamp.number} of ${piecesText(stamp.first, stamp.last, all)} back`}
                        onClick={() => take.mutate(stamp.id)}
                      >
                        take back
                      </Button>
                    </p>
                  ))}
                </div>
              </li>
            ))}
          </ol>
        </Card>
      }
      why={
        <>
          <Card title={`With the ${tool.label}`}>
            <p>{tool.pattern}</p>
            <p className="mt-2">
              <b>Right:</b> {tool.looks_like}
            </p>
            <p className="mt-2 font-bold">What goes wrong</p>
            <ul className="list-disc pl-5">
              {tool.goes_wrong.map((wrong) => (
                <li key={wrong}>{wrong}</li>
              ))}
            </ul>
            <p className="mt-2 text-sm text-soft">
              Risk of an uneven coat: {RISK[tool.unevenness]}.{' '}
              {plan.touch_safe ? '' : 'Never touch the face.'}
            </p>
          </Card>
          <Cautions plan={plan} steps={['apply']} />
        </>
      }
    />
  )
}

function NextCoat({ job, plan }: StepProps) {
  const { drying } = plan
  const now = useServerNow(drying.now)
  const all = plan.pieces + plan.spares
  const [first, setFirst] = useState(String(drying.first))
  const [last, setLast] = useState(String(drying.last))
  const [heat, setHeat] = useState<Schema<'StampIn'>['heat']>('none')
  const next = drying.coats_on + 1
  const put = useJobWrite(job.id, () =>
    body(
      api.POST('/api/jobs/{job_id}/coat/stamps', {
        params: { path: { job_id: job.id } },
        body: { number: next, first: Number(first), last: Number(last), heat },
      }),
    ),
  )
  const waiting = drying.next_at !== null && new Date(drying.next_at).getTime() > now
  if (drying.all_on)
    return (
      <Card accent title="Next">
        <p className="text-3xl leading-tight font-bold">All coats are on</p>
        <LinkButton look="main" className="mt-4 w-full text-lg" to={`/jobs/${job.id}/coat/dry`}>
          Watch them dry
        </LinkButton>
      </Card>
    )
  return (
    <Card accent title={waiting ? 'Drying' : 'Next'}>
      {waiting && drying.next_at ? (
        <>
          <p className="font-mono text-4xl font-bold" role="timer">
            {countdown(drying.next_at, now)}
          </p>
          <p className="mt-1">
            until coat {next} on {piecesText(drying.first, drying.last, all)}, at{' '}
            {dayAndClock(drying.next_at)}
          </p>
        </>
      ) : (
        <>
          <p className="text-3xl leading-tight font-bold">Put on coat {next}</p>
          <p className="mt-1 text-lg text-soft">
            {piecesText(drying.first, drying.last, all)}
            {plan.mix && `, ${plan.mix.per_piece_coat_ml.toFixed(1)} ml each`}
          </p>
        </>
      )}
      <RefusalScope error={put.error}>
        <form
          className="mt-4 grid grid-cols-2 gap-3"
          onSubmit={(event) => {
            event.preventDefault()
            put.mutate(undefined)
          }}
        >
          <TypedField label="From piece" name="first" inputMode="numeric" value={first} set={setFirst} />
          <TypedField label="to piece" name="last" inputMode="numeric" value={last} set={setLast} />
          {plan.heats.length > 1 && (
            <div className="col-span-2">
              <SelectField
                label="Dries in"
                name="heat"
                value={heat}
                onChange={(e) => setHeat(e.target.value as typeof heat)}
              >
                {plan.heats.map((h) => (
                  <option key={h.key} value={h.key}>
                    {h.label}
                  </option>
                ))}
              </SelectField>
            </div>
          )}
          <Button
            type="submit"
            look={waiting ? 'plain' : 'main'}
            className="col-span-2 text-lg"
            disabled={put.isPending}
          >
            {waiting ? `Coat ${next} is on already` : `Coat ${next} is on`}
          </Button>
        </form>
      </RefusalScope>
      {put.error && (
        <div className="mt-3">
          <Problem error={put.error} />
        </div>
      )}
    </Card>
  )
}
