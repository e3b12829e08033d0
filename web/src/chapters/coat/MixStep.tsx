import { useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import { useCoatPlan, useJobWrite } from '../../api/hooks'
import { Problem } from '../../ui/feedback'
import { RefusalScope, TypedField } from '../../ui/form'
import { Button, Card, Chapter, Figures, FileLink, LinkButton } from '../../ui/parts'
import { dayAndClock } from '../../ui/units'
import { useSettled } from '../../ui/useSettled'
import { Cautions } from './Cautions'
import type { StepProps } from './steps'
import { moneyText } from './words'

export default function MixStep({ job, plan: usual }: StepProps) {
  const [jar, setJar] = useState('')
  const [note, setNote] = useState('')
  const [left, setLeft] = useState('')
  const jar_ml = useSettled(jar.trim() ? Number(jar) : undefined)
  const scaled = useCoatPlan(job.id, jar_ml, useSettled(left.trim() ? Number(left) : undefined))
  const mixed = useJobWrite(job.id, (words: string) =>
    body(
      api.POST('/api/jobs/{job_id}/coat/lots', {
        params: { path: { job_id: job.id } },
        body: { note: words },
      }),
    ),
  )
  const plan = scaled.data ?? usual
  const { mix } = plan
  const share = mix && jar_ml && !scaled.isError ? jar_ml / mix.total_ml : 1
  return (
    <Chapter
      doing={
        <>
          <Card accent title={`Mix for ${plan.pieces} pieces and ${plan.spares} spares`}>
            {mix ? (
              <>
                <p className="font-mono text-4xl font-bold">{mix.total_ml.toFixed(0)} ml</p>
                <p className="text-soft">
                  {mix.low_ml.toFixed(0)} to {mix.high_ml.toFixed(0)} ml, by how it goes on; about{' '}
                  {mix.total_g.toFixed(0)} g
                </p>
              </>
            ) : (
              <p className="text-2xl font-bold">Nothing to mix</p>
            )}
            <form
              className="mt-4 grid gap-3"
              onSubmit={(event) => {
                event.preventDefault()
                mixed.mutate(note, { onSuccess: () => setNote('') })
              }}
            >
              <TypedField
                label="Note on the lot"
                name="note"
                placeholder="sieved twice"
                value={note}
                set={setNote}
              />
              <Button
                look={plan.lots.length ? 'plain' : 'main'}
                type="submit"
                className="w-full text-lg"
                disabled={mixed.isPending}
              >
                {plan.lots.length ? 'Mixed another lot' : 'Mixed: record the lot'}
              </Button>
            </form>
            {plan.lots.length > 0 && (
              <LinkButton look="main" className="mt-3 w-full text-lg" to={`/jobs/${job.id}/coat/apply`}>
                Put it on
              </LinkButton>
            )}
          </Card>
          {mixed.error && <Problem error={mixed.error} />}
          {plan.lots.length > 0 && <Lots job={job.id} lots={plan.lots} />}
        </>
      }
      seeing={
        <Card
          title="What goes in"
          aside={
            mix && (
              <RefusalScope error={scaled.error}>
                <div className="w-40">
                  <TypedField
                    label="Jar"
                    unit="ml"
                    name="jar_ml"
                    inputMode="decimal"
                    placeholder="all at once"
                    value={jar}
                    set={setJar}
                  />
                </div>
              </RefusalScope>
            )
          }
        >
          {mix ? (
            <>
              {share !== 1 && (
                <p className="mb-3 text-lg font-bold">
                  Fill the jar {mix.jars <= 1 ? 'once, not full' : `${mix.jars.toFixed(1)} times`}; one jar
                  takes:
                </p>
              )}
              <PartsTable mix={mix} share={Math.min(1, share)} currency={plan.currency} />
              <p className="mt-3 text-soft">
                Parts are by volume, level and not pressed; parts by weight and grams are there for whoever
                weighs. Powder leaves its air behind in the mix, so the parts add up to more than{' '}
                {mix.total_ml.toFixed(0)} ml.
              </p>
            </>
          ) : (
            <p className="text-lg">It comes ready made: go on to Apply.</p>
          )}
        </Card>
      }
      why={
        <>
          {mix && (
            <Card title="Where the amount comes from">
              <Figures
                rows={[
                  ['Coated area, each', `${plan.coated_cm2.toFixed(0)} cm²`],
                  ['Film, a coat', `${plan.film_um.toFixed(0)} µm`],
                  ['wet, as it goes on', `${mix.wet_film_um.toFixed(0)} µm`],
                  ['Film, in all', `${mix.dry_film_um.toFixed(0)} µm`],
                  ['A piece gains, dry', `${mix.gain_g.toFixed(2)} g`],
                  ['Lands on the piece', `${(100 * plan.tool.transfer).toFixed(0)} %`],
                  ['A piece, a coat', `${mix.per_piece_coat_ml.toFixed(1)} ml`],
                  ['', `${mix.per_piece_coat_g.toFixed(1)} g`],
                  ['Cost', moneyText(mix.cost, plan.currency)],
                  ['A pack covers', mix.pieces_per_pack ? `${mix.pieces_per_pack} pieces` : '–'],
                ]}
              />
              {mix.pack_of && (
                <RefusalScope error={scaled.error}>
                  <div className="mt-2">
                    <TypedField
                      label="Left in the pack"
                      unit="ml"
                      name="left_ml"
                      inputMode="decimal"
                      placeholder="a full one"
                      value={left}
                      set={setLeft}
                      help={
                        mix.pieces_left === null
                          ? `${mix.pack_of} runs out first. Prices: Shop.`
                          : `That covers ${mix.pieces_left} pieces.`
                      }
                    />
                  </div>
                </RefusalScope>
              )}
              <p className="mt-2 text-sm text-soft">
                Area × film × coats ÷ (solids × transfer), plus what stays in cup and tool. Film:{' '}
                {plan.mix_source}
              </p>
            </Card>
          )}
          <Cautions plan={plan} steps={['mix']} />
        </>
      }
    />
  )
}

function PartsTable({ mix, share, currency }: { mix: Schema<'MixOut'>; share: number; currency: string }) {
  return (
    <div className="overflow-x-auto">
      <table className="w-full text-left">
        <thead className="text-sm text-soft">
          <tr>
            {['what', 'parts', 'ml', 'by weight', 'g', 'spoons', 'cost'].map((head) => (
              <th
                key={head}
                scope="col"
                className={`pb-1 font-normal ${head === 'spoons' ? 'pl-3' : 'pl-3 text-right first:pl-0 first:text-left'}`}
              >
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {mix.parts.map((part) => (
            <tr key={part.ingredient} className="border-t border-line">
              <th scope="row" className="py-2 font-bold">
                {part.name}
                {part.is_powder && <span className="block text-sm font-normal text-soft">spooned</span>}
              </th>
              <td className="pl-3 text-right font-mono">{part.parts}</td>
              <td className="pl-3 text-right font-mono text-xl font-bold">{(part.ml * share).toFixed(1)}</td>
              <td className="pl-3 text-right font-mono">{Number(part.mass_parts.toFixed(2))}</td>
              <td className="pl-3 text-right font-mono">{(part.g * share).toFixed(1)}</td>
              <td className="pl-3 text-sm">{share === 1 ? part.spoons : '–'}</td>
              <td className="pl-3 text-right font-mono text-sm">
                {moneyText(Number(part.cost) * share, currency)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

function Lots({ job, lots }: { job: number; lots: Schema<'LotOut'>[] }) {
  return (
    <Card title="Lots">
      <ul className="grid gap-3">
        {lots.map((lot) => (
          <li key={lot.id} className="flex items-center justify-between gap-3">
            <span>
              <span className="font-mono font-bold">{lot.code}</span>, {dayAndClock(lot.mixed_at)}
              {lot.note && <span className="block text-sm text-soft">{lot.note}</span>}
            </span>
            <FileLink href={`/api/jobs/${job}/coat/lots/${lot.id}/label.pdf`}>Jar label</FileLink>
          </li>
        ))}
      </ul>
    </Card>
  )
}
