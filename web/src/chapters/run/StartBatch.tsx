import { useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import { useArtworks, useBatchPlan, useFittingJigs, useJobWrite } from '../../api/hooks'
import type { Job } from '../../api/types'
import { Loading, Problem } from '../../ui/feedback'
import { RefusalScope, SelectField, TypedField } from '../../ui/form'
import { Button, Card } from '../../ui/parts'
import { showMinutes } from '../../ui/units'
import { isWhole, ticksOf, type Ticked } from './gate'
import { GateList } from './GateList'

const asNumber = (text: string) => (text ? Number(text) : undefined)

/** What is burned in the next batch, and the gate before it. */
export function StartBatch({ job }: { job: Job }) {
  const artworks = useArtworks(job.id).data?.artworks ?? []
  const jigs = useFittingJigs(job.id).data ?? []
  const [artwork, setArtwork] = useState<string | null>(null)
  const [jig, setJig] = useState('')
  const [first, setFirst] = useState('')
  const [last, setLast] = useState('')
  const [ticked, setTicked] = useState<Ticked>({})
  const chosen = artwork ?? (artworks[0] ? String(artworks[0].id) : '')
  const wish = {
    artwork_id: asNumber(chosen),
    jig_id: asNumber(jig),
    first: asNumber(first),
    last: asNumber(last),
  }
  const plan = useBatchPlan(job.id, wish)
  const begin = useJobWrite(job.id, (input: Schema<'BatchIn'>) =>
    body(
      api.POST('/api/jobs/{job_id}/batches', {
        params: { path: { job_id: job.id } },
        body: input,
      }),
    ),
  )
  const found = plan.data
  const whole = !!found && isWhole(found.gate, ticked)
  const left = found ? found.gate.filter((item) => !isWhole([item], ticked)).length : 0
  return (
    <RefusalScope error={begin.error ?? plan.error}>
      <Card accent title="The next batch" className="no-print">
        <div className="grid grid-cols-2 gap-3 lg:flex lg:*:w-72 lg:*:nth-last-[-n+2]:w-28">
          <div className="col-span-2">
            <SelectField
              label="Artwork"
              name="artwork_id"
              value={chosen}
              onChange={(event) => setArtwork(event.target.value)}
            >
              {artworks.map((a) => (
                <option key={a.id} value={a.id}>
                  {a.name}
                </option>
              ))}
              {!job.practice && <option value="">from elsewhere</option>}
            </SelectField>
          </div>
          {!job.practice && (
            <div className="col-span-2">
              <SelectField label="Lies" name="jig_id" value={jig} onChange={(e) => setJig(e.target.value)}>
                <option value="">one piece at a time</option>
                {jigs.map(({ kept }) => (
                  <option key={kept.id} value={kept.id}>
                    in {kept.name}, {kept.pockets} pockets
                  </option>
                ))}
              </SelectField>
            </div>
          )}
          <TypedField
            label="From piece"
            name="first"
            inputMode="numeric"
            placeholder={found ? String(found.first) : ''}
            value={first}
            set={setFirst}
          />
          <TypedField
            label="to piece"
            name="last"
            inputMode="numeric"
            placeholder={found ? String(found.last) : ''}
            value={last}
            set={setLast}
          />
        </div>
        {plan.isPending && <Loading what="gate" />}
        {plan.error && <Problem error={plan.error} again={() => void plan.refetch()} />}
        {found && (
          <>
            <p className="mt-3 text-soft">
              Pieces {found.first} to {found.last} in {found.turns} {found.turns === 1 ? 'turn' : 'turns'}
              {found.burn_s !== null && `, ${showMinutes(found.burn_s / 60)} of laser a piece`}
              {found.strips > 1 && `, each in ${found.strips} strips`}.
            </p>
            <h3 className="mt-4 mb-1 text-xl font-bold">Before the beam goes on</h3>
            <GateList gate={found.gate} ticked={ticked} set={setTicked} />
            <p className="mt-3 text-sm text-soft">{found.deference}</p>
            <Button
              look="main"
              className="mt-3 min-h-16 w-full text-xl"
              disabled={!whole || begin.isPending}
              onClick={() =>
                begin.mutate({ ...wish, lock_version: job.locked?.version ?? 0, ticks: ticksOf(ticked) })
              }
            >
              {whole ? 'Begin the batch' : `${left} to look at first`}
            </Button>
          </>
        )}
        {begin.error && <Problem error={begin.error} />}
      </Card>
    </RefusalScope>
  )
}
