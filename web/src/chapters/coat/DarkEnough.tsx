import { useState } from 'react'
import { api, body, uploadHoldUp, type Schema } from '../../api/client'
import { useJobWrite } from '../../api/hooks'
import { Problem } from '../../ui/feedback'
import { FilePick } from '../../ui/FilePick'
import { RefusalScope, TypedField } from '../../ui/form'
import { Button, Card, Figures } from '../../ui/parts'
import { More } from '../../ui/More'
import type { StepProps } from './steps'

/** The hold-up test: light through the bare piece against light through the coat. */
export function DarkEnough({ job, proof }: { job: StepProps['job']; proof: Schema<'ProofOut'> }) {
  const [coats, setCoats] = useState(String(Math.max(1, job.drying.coats_on || job.coats)))
  const [bare, setBare] = useState('')
  const [coated, setCoated] = useState('')
  const [bareShot, setBareShot] = useState<File | null>(null)
  const path = { params: { path: { job_id: job.id } } }
  const lux = useJobWrite(job.id, () =>
    body(
      api.POST('/api/jobs/{job_id}/coat/holdups', {
        ...path,
        body: { coats: Number(coats), bare: Number(bare), coated: Number(coated) },
      }),
    ),
  )
  const shots = useJobWrite(job.id, (photo: File) =>
    uploadHoldUp(job.id, { bare: bareShot as File, coated: photo, coats: Number(coats) }),
  )
  const drop = useJobWrite(job.id, (test_id: number) =>
    body(
      api.DELETE('/api/jobs/{job_id}/coat/holdups/{test_id}', {
        params: { path: { job_id: job.id, test_id } },
      }),
    ),
  )
  const { darkness } = proof
  if (!darkness)
    return (
      <Card title="Dark enough?">
        <p className="text-soft">
          No light comes through this piece, so there is no hold-up test: judge the coat by its evenness.
        </p>
      </Card>
    )
  const error = lux.error ?? shots.error ?? drop.error
  return (
    <Card title="Dark enough?">
      <p className="text-2xl font-bold">
        {darkness.plan} {darkness.plan === 1 ? 'coat' : 'coats'}
        {darkness.low !== darkness.high && (
          <span className="text-lg font-normal text-soft">
            {' '}
            ({darkness.low} to {darkness.high})
          </span>
        )}
      </p>
      <Figures
        rows={[
          ['Wanted density', darkness.wanted.toFixed(1)],
          ['One coat gives', `${darkness.per_coat.mid.toFixed(2)}`],
          ['between', `${darkness.per_coat.low.toFixed(2)} and ${darkness.per_coat.high.toFixed(2)}`],
        ]}
      />
      <p className="mt-1 text-sm text-soft">
        {darkness.source === 'own-record'
          ? 'From your own hold-up tests of this coat and tool.'
          : 'A guess until you hold it up.'}{' '}
        Beer–Lambert: each even coat adds the same.
      </p>
      <ul className="mt-2 grid gap-1">
        {proof.holdups.map((test) => (
          <li key={test.id} className="flex items-center justify-between gap-2 text-sm">
            <span>
              {test.coats} {test.coats === 1 ? 'coat' : 'coats'}: density{' '}
              <span className="font-mono">{test.density.mid.toFixed(2)}</span>,{' '}
              {test.way === 'lux' ? 'lux' : 'photos'}
            </span>
            {test.job_id === job.id && (
              <Button look="quiet" onClick={() => drop.mutate(test.id)}>
                throw away
              </Button>
            )}
          </li>
        ))}
      </ul>
      <RefusalScope error={error}>
        <form
          className="mt-3 grid grid-cols-3 gap-2"
          onSubmit={(event) => {
            event.preventDefault()
            lux.mutate(undefined, {
              onSuccess: () => {
                setBare('')
                setCoated('')
              },
            })
          }}
        >
          <TypedField label="Coats" name="coats" inputMode="numeric" value={coats} set={setCoats} />
          <TypedField label="Bare" unit="lux" name="bare" inputMode="decimal" value={bare} set={setBare} />
          <TypedField
            label="Coated"
            unit="lux"
            name="coated"
            inputMode="decimal"
            value={coated}
            set={setCoated}
          />
          <Button type="submit" className="col-span-3" disabled={lux.isPending || !bare || !coated}>
            Record the readings
          </Button>
        </form>
      </RefusalScope>
      <More heading="Or two photos, exposure held" className="mt-2">
        <div className="grid gap-2">
          <FilePick pick={setBareShot} disabled={shots.isPending}>
            {bareShot ? `Bare: ${bareShot.name}` : 'Through the bare piece'}
          </FilePick>
          <FilePick pick={(file) => shots.mutate(file)} disabled={!bareShot || shots.isPending}>
            Through the coat
          </FilePick>
          <p className="text-sm text-soft">The middle of each picture is read.</p>
        </div>
      </More>
      {error && <Problem error={error} />}
    </Card>
  )
}
