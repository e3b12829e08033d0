import { useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import { useJobWrite, useOffers, useShelf } from '../../api/hooks'
import { LayerSection } from '../../drawing/LayerSection'
import { Loading, Problem } from '../../ui/feedback'
import { RefusalScope, SelectField, TypedField } from '../../ui/form'
import { Button, Card, Chapter, LinkButton } from '../../ui/parts'
import type { StepProps } from './steps'
import { HAZARD, minutesText, moneyText, RISK } from './words'

type Offer = Schema<'OfferOut'>
type Wanted = Omit<Schema<'CoatChoiceIn'>, 'version'>

export default function ChooseStep({ job, plan }: StepProps) {
  const offers = useOffers(job.id)
  const take = useJobWrite(job.id, (wanted: Wanted) =>
    body(
      api.POST('/api/jobs/{job_id}/coat/choice', {
        params: { path: { job_id: job.id } },
        body: { ...wanted, version: job.version },
      }),
    ),
  )
  if (offers.isPending) return <Loading what="coats" />
  if (offers.isError) return <Problem error={offers.error} again={() => void offers.refetch()} />
  const { currency, disagreements, rejections } = offers.data
  const fixed = !!job.grid?.burned_at
  return (
    <Chapter
      doing={
        <>
          <Card accent title="This job's coat">
            <p className="text-2xl leading-tight font-bold">{job.coat_label}</p>
            <p className="mt-1 text-soft">
              {job.coats} {job.coats === 1 ? 'coat' : 'coats'}, {job.tool_label}
            </p>
            <LayerSection job={job} className="mt-3" />
            {plan.put_on && (
              <LinkButton
                look="main"
                className="mt-3 w-full"
                to={`/jobs/${job.id}/coat/${plan.mixed ? 'mix' : 'apply'}`}
              >
                {plan.mixed ? 'Mix it' : 'Put it on'}
              </LinkButton>
            )}
          </Card>
          {plan.put_on && !fixed && (
            <FineChoice
              key={`${job.coat}-${job.version}`}
              job={job}
              take={take.mutate}
              error={take.error}
              busy={take.isPending}
            />
          )}
          {fixed && <p className="text-soft">A grid is burned on this job, so its coat stays.</p>}
          {take.error && <Problem error={take.error} />}
        </>
      }
      seeing={
        <>
          <Card title="What works here, for this batch">
            <ul className="-my-3">
              {offers.data.offers.map((offer) => (
                <OfferRow
                  key={offer.coat}
                  offer={offer}
                  currency={currency}
                  taken={offer.coat === job.coat}
                  take={
                    fixed
                      ? null
                      : () => take.mutate({ coat: offer.coat, tool: offer.tool, coats: offer.coats })
                  }
                />
              ))}
            </ul>
          </Card>
          {disagreements.map((question) => (
            <Card key={question.key} title={`Makers disagree: ${question.question}`}>
              <div className="grid gap-3 sm:grid-cols-[repeat(auto-fit,minmax(11rem,1fr))]">
                {question.schools.map((school) => (
                  <div key={school.label} className="flex flex-col rounded-xl border border-line p-3">
                    <p className="font-bold">{school.label}</p>
                    <p className="mt-1">{school.says}</p>
                    <p className="mt-2 text-sm text-soft">
                      <b>Price:</b> {school.price}
                    </p>
                    <p className="text-sm text-soft">
                      <b>Risk:</b> {school.risk}
                    </p>
                    <p className="mt-1 mb-2 font-mono text-sm">
                      {minutesText(school.hands_min)} · ready {minutesText(60 * school.ready_h)} ·{' '}
                      {moneyText(school.cost, currency)}
                    </p>
                    {!fixed && (
                      <Button
                        className="mt-auto"
                        disabled={take.isPending}
                        onClick={() =>
                          take.mutate({
                            coat: school.coat,
                            tool: school.tool,
                            coats: school.coats,
                            last_wait_min: school.wait_min || null,
                          })
                        }
                      >
                        Go with this
                      </Button>
                    )}
                  </div>
                ))}
              </div>
              <p className="mt-2 text-sm text-soft">Common practice; no published source decides it.</p>
            </Card>
          ))}
        </>
      }
      why={
        <>
          <Card title="What won't work, and why">
            <ul className="grid gap-2">
              {rejections.map((no) => (
                <li key={no.label}>
                  <span className="font-bold">
                    <span aria-hidden className="mr-1.5 text-ember">
                      ✕
                    </span>
                    {no.label}
                  </span>
                  <span className="block text-soft">{no.reason}</span>
                </li>
              ))}
            </ul>
          </Card>
          <Card title="Not sure?">
            <p>Burn the same small grid on two or three coats, and let the cells decide.</p>
            <LinkButton className="mt-3 w-full" to={`/compare?like=${job.id}`}>
              Compare coats
            </LinkButton>
            <p className="mt-3 text-sm text-soft">
              A coat of your own goes on the shelf in the <a href="/shop">Shop</a>.
            </p>
          </Card>
        </>
      }
    />
  )
}

function OfferRow({
  offer,
  currency,
  taken,
  take,
}: {
  offer: Offer
  currency: string
  taken: boolean
  take: (() => void) | null
}) {
  const { log } = offer
  return (
    <li className="grid gap-x-4 gap-y-2 border-b border-line py-3 last:border-0 sm:grid-cols-[minmax(0,1fr)_8.5rem]">
      <div>
        <p className="text-lg font-bold">{offer.label}</p>
        <p>{offer.why}</p>
        <p className="text-sm text-soft">{offer.absorbs}</p>
        <p className="mt-1 text-sm text-soft">
          {offer.coats} {offer.coats === 1 ? 'coat' : 'coats'}, {offer.tool_label} · uneven risk{' '}
          {RISK[offer.unevenness]} · {offer.touch_safe ? 'may be touched' : 'do not touch'} · off with{' '}
          {offer.removal}
          {offer.hazards.length > 0 && ` · mind: ${offer.hazards.map((h) => HAZARD[h] ?? h).join(', ')}`}
        </p>
        <p className="mt-1 text-sm">
          <b>Your log:</b>{' '}
          {log.cells
            ? `${log.clean} of ${log.cells} cells clean on ${log.pieces} ${log.pieces === 1 ? 'piece' : 'pieces'}`
            : 'nothing burned with it yet'}
          {log.photos > 0 && `; ${log.photos_good} of ${log.photos} coats even`}
        </p>
      </div>
      <div className="flex flex-wrap items-center justify-between gap-2 sm:flex-col sm:items-stretch">
        <dl className="font-mono text-sm">
          {(
            [
              ['hands', minutesText(offer.hands_min)],
              ['ready', minutesText(60 * offer.ready_h)],
              ['cost', moneyText(offer.cost, currency)],
            ] as const
          ).map(([name, value]) => (
            <div key={name} className="flex justify-between gap-3">
              <dt className="text-soft">{name}</dt>
              <dd>{value}</dd>
            </div>
          ))}
        </dl>
        {taken ? (
          <p className="py-2 text-center font-bold text-glaze">Chosen</p>
        ) : (
          take && <Button onClick={take}>Take it</Button>
        )}
      </div>
    </li>
  )
}

function FineChoice({
  job,
  take,
  error,
  busy,
}: {
  job: StepProps['job']
  take: (wanted: Wanted) => void
  error: Error | null
  busy: boolean
}) {
  const offers = useOffers(job.id).data
  const tools = useShelf().data?.tools ?? []
  const [tool, setTool] = useState(job.tool)
  const [coats, setCoats] = useState(String(job.coats))
  const [film, setFilm] = useState(job.film_um ? String(job.film_um) : '')
  const [wait, setWait] = useState(job.last_wait_min ? String(job.last_wait_min) : '')
  const number = (text: string) => (text.trim() ? Number(text) : null)
  return (
    <Card title="Finer">
      <RefusalScope error={error}>
        <form
          className="grid grid-cols-2 gap-3"
          onSubmit={(event) => {
            event.preventDefault()
            take({
              coat: job.coat,
              tool,
              coats: Number(coats),
              film_um: number(film),
              last_wait_min: number(wait),
            })
          }}
        >
          <div className="col-span-2">
            <SelectField label="Tool" name="tool" value={tool} onChange={(e) => setTool(e.target.value)}>
              {tools.map((t) => (
                <option key={t.key} value={t.key}>
                  {t.label}
                </option>
              ))}
            </SelectField>
          </div>
          <TypedField label="Coats" name="coats" inputMode="numeric" value={coats} set={setCoats} />
          <TypedField
            label="Film"
            unit="µm"
            name="film_um"
            inputMode="decimal"
            placeholder="usual"
            value={film}
            set={setFilm}
          />
          <div className="col-span-2">
            <TypedField
              label="Wait before burning"
              unit="min"
              name="last_wait_min"
              inputMode="decimal"
              placeholder="usual"
              value={wait}
              set={setWait}
            />
          </div>
          <Button type="submit" className="col-span-2" disabled={busy || !offers}>
            Save
          </Button>
        </form>
      </RefusalScope>
    </Card>
  )
}
