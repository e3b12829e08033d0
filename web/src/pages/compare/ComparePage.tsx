import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import { fetchAnew } from '../../api/keys'
import { api, body, type Schema } from '../../api/client'
import { useCatalogue, useExperiments, useJobs, useOffers } from '../../api/hooks'
import { Empty, Loading, Problem } from '../../ui/feedback'
import { RefusalScope, SelectField, TypedField } from '../../ui/form'
import { Button, Card } from '../../ui/parts'
import { dayAndClock } from '../../ui/units'
import { ArmsPicture } from '../../drawing/ArmsPicture'
import { ArmsTable } from '../../chapters/compare/ArmsTable'
import { Heading } from '../../ui/Heading'

export default function ComparePage() {
  const { id } = useParams()
  const [search] = useSearchParams()
  const experiments = useExperiments()
  const [making, setMaking] = useState(search.has('like'))
  if (experiments.isPending) return <Loading what="experiments" />
  if (experiments.isError)
    return <Problem error={experiments.error} again={() => void experiments.refetch()} />
  const list = experiments.data
  const shown = list.find((e) => e.id === Number(id)) ?? list[0]
  return (
    <>
      <header className="mb-4 flex flex-wrap items-center justify-between gap-3">
        <div>
          <Heading title={shown ? `${shown.name} – Compare coats` : 'Compare coats'}>Compare coats</Heading>
          <p className="text-soft">Which paint, how thick, put on how: the same small grid on each.</p>
        </div>
        {!making && <Button onClick={() => setMaking(true)}>New comparison</Button>}
      </header>
      <div className="grid gap-4">
        {making && <NewExperiment like={search.get('like') ?? ''} done={() => setMaking(false)} />}
        {!making && !shown && (
          <Empty title="Nothing compared yet">
            <p>Three spares settle what a season of guessing does not.</p>
          </Empty>
        )}
        {shown && !making && <Experiment experiment={shown} />}
        {list.length > 1 && !making && (
          <Card title="Earlier">
            <ul>
              {list.map((e) => (
                <li key={e.id}>
                  <Link className="inline-flex min-h-11 items-center underline" to={`/compare/${e.id}`}>
                    {e.name}, {dayAndClock(e.made_at)}
                  </Link>
                </li>
              ))}
            </ul>
          </Card>
        )}
      </div>
    </>
  )
}

function Experiment({ experiment }: { experiment: Schema<'ExperimentOut'> }) {
  const rated = experiment.arms.some((arm) => arm.cells > 0)
  const best = [...experiment.arms].sort((a, b) => b.best - a.best)[0]
  return (
    <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,2fr)_minmax(0,1fr)]">
      <Card
        title={experiment.name}
        aside={<span className="text-soft">{dayAndClock(experiment.made_at)}</span>}
      >
        {rated && best ? (
          <p className="mb-3 text-2xl leading-tight font-bold">
            {best.best >= 0.9
              ? `${best.label} is the best here`
              : best.best >= 0.6
                ? `${best.label} leads, not surely`
                : 'No coat leads yet: burn another piece of each'}
          </p>
        ) : (
          <p className="mb-3 text-2xl leading-tight font-bold">Coat the pieces in the order on the right</p>
        )}
        <ArmsPicture arms={experiment.arms} />
        <ArmsTable experiment={experiment} />
      </Card>
      <div className="grid gap-4">
        <Card title="Which piece gets which coat">
          <ol className="grid gap-1">
            {experiment.order.map(({ piece, arm }) => (
              <li key={piece} className="flex gap-3">
                <span className="font-mono whitespace-nowrap">piece {piece}</span>
                <span>{experiment.arms[arm]?.label}</span>
              </li>
            ))}
          </ol>
          <p className="mt-2 text-sm text-soft">
            Drawn by lot within each round, so that the day’s weather favours none.
          </p>
        </Card>
        <Card title="How sure">
          <p>
            Shares of clean cells with the range that holds the true one nine times in ten, and the chance of
            each to be the best.
          </p>
          <p className="mt-2 text-sm text-soft">
            Cells of one piece share its coat, so they count for less than cells of many (Kish 1965); ranges
            by Wilson 1927. Rate the cells in each job’s Reading chapter.
          </p>
        </Card>
      </div>
    </div>
  )
}

type Arm = Schema<'ArmIn'>

function NewExperiment({ like, done }: { like: string; done: () => void }) {
  const navigate = useNavigate()
  const client = useQueryClient()
  const jobs = useJobs().data ?? []
  const tried = jobs.filter((job) => job.coat_put_on && !job.experiment_id)
  const [jobId, setJobId] = useState(like)
  const [name, setName] = useState('')
  const [arms, setArms] = useState<Arm[]>([])
  const [replicates, setReplicates] = useState('1')
  const [cells, setCells] = useState('8')
  const job = tried.find((j) => String(j.id) === jobId) ?? tried[0]
  const sizes = useCatalogue().data?.grid_sizes ?? []
  const make = useMutation({
    mutationFn: (wanted: Schema<'ExperimentIn'>) => body(api.POST('/api/experiments', { body: wanted })),
    onSuccess: async (made) => {
      await fetchAnew.everything(client)
      done()
      await navigate(`/compare/${made.id}`)
    },
  })
  if (!job)
    return (
      <Empty title="First make a job">
        <p>A comparison takes its piece, process and machine from a job.</p>
      </Empty>
    )
  return (
    <Card title="New comparison" accent>
      <RefusalScope error={make.error}>
        <form
          className="grid gap-4"
          onSubmit={(event) => {
            event.preventDefault()
            make.mutate({
              name,
              like_job: job.id,
              arms,
              replicates: Number(replicates),
              cells: Number(cells),
            })
          }}
        >
          <div className="grid gap-3 sm:grid-cols-4">
            <TypedField label="Name" name="name" value={name} set={setName} />
            <SelectField
              label="On pieces like those of"
              name="like_job"
              value={job.id}
              onChange={(e) => {
                setJobId(e.target.value)
                setArms([])
              }}
            >
              {tried.map((j) => (
                <option key={j.id} value={j.id}>
                  {j.name}
                </option>
              ))}
            </SelectField>
            <TypedField
              label="Pieces of each"
              name="replicates"
              inputMode="numeric"
              value={replicates}
              set={setReplicates}
            />
            <SelectField
              label="Cells a piece"
              name="cells"
              value={cells}
              onChange={(e) => setCells(e.target.value)}
            >
              {sizes.map((size) => (
                <option key={size}>{size}</option>
              ))}
            </SelectField>
          </div>
          <ArmChooser jobId={job.id} arms={arms} setArms={setArms} />
          {make.error && <Problem error={make.error} />}
          <div className="flex flex-wrap gap-3">
            <Button look="main" type="submit" disabled={make.isPending || arms.length < 2}>
              Plan {arms.length * Number(replicates) || ''} pieces
            </Button>
            <Button look="quiet" onClick={done}>
              Leave it
            </Button>
          </div>
        </form>
      </RefusalScope>
    </Card>
  )
}

/** What can be compared: each coat that works on this job, with one coat less and more than usual. */
function ArmChooser({
  jobId,
  arms,
  setArms,
}: {
  jobId: number
  arms: Arm[]
  setArms: (arms: Arm[]) => void
}) {
  const offers = useOffers(jobId)
  if (offers.isPending) return <Loading what="coats" />
  if (offers.isError) return <Problem error={offers.error} />
  const same = (a: Arm, b: Arm) => a.coat === b.coat && a.tool === b.tool && a.coats === b.coats
  const flip = (arm: Arm) =>
    setArms(arms.some((a) => same(a, arm)) ? arms.filter((a) => !same(a, arm)) : [...arms, arm])
  return (
    <fieldset>
      <legend className="mb-2 text-sm font-bold">Coats to compare (choose at least two)</legend>
      <ul className="grid gap-x-6 gap-y-1 lg:grid-cols-2">
        {offers.data.offers.map((offer) => (
          <li
            key={offer.coat}
            className="flex flex-wrap items-center justify-between gap-2 border-b border-line py-1"
          >
            <span>
              {offer.label} <span className="text-sm text-soft">{offer.tool_label}</span>
            </span>
            <span className="flex gap-1">
              {[offer.coats - 1, offer.coats, offer.coats + 1]
                .filter((n) => n >= 1)
                .map((coats) => {
                  const arm = { coat: offer.coat, tool: offer.tool, coats }
                  const on = arms.some((a) => same(a, arm))
                  return (
                    <button
                      key={coats}
                      type="button"
                      aria-pressed={on}
                      aria-label={`${offer.label}, ${coats} coats`}
                      onClick={() => flip(arm)}
                      className={`min-h-11 min-w-11 rounded-xl border font-mono ${on ? 'border-glaze bg-glaze-tint font-bold' : 'border-line'}`}
                    >
                      {coats}×
                    </button>
                  )
                })}
            </span>
          </li>
        ))}
      </ul>
    </fieldset>
  )
}
