import { useEffect, useState } from 'react'
import { api, body, uploadCoatPhoto, type Schema } from '../../api/client'
import { useJobWrite } from '../../api/hooks'
import { Problem } from '../../ui/feedback'
import { RefusalScope, SelectField, TypedField } from '../../ui/form'
import { Button, Card } from '../../ui/parts'
import { FilePick } from '../../ui/FilePick'
import { More } from '../../ui/More'
import type { StepProps } from './steps'
import { HOW, wayOf } from './lighting'

const FAULTS: [string, string][] = [
  ['even', 'even'],
  ['thin', 'thin all over'],
  ['thin_spot', 'a thin spot'],
  ['streaked', 'streaked'],
  ['pooled', 'pooled'],
  ['touched', 'touched'],
  ['cracked', 'cracked'],
  ['pinholes', 'pinholes'],
]

/** A photo goes to the server as soon as it is chosen, and is kept there; the bare shot, if any, is chosen first. */
export function PhotoForm({
  job,
  proof,
  show,
}: {
  job: StepProps['job']
  proof: Schema<'ProofOut'>
  show: (id: number) => void
}) {
  const [bare, setBare] = useState<File | null>(null)
  const [piece, setPiece] = useState('')
  const [waiting, setWaiting] = useState<File | null>(null)
  const [fault, setFault] = useState('streaked')
  const send = useJobWrite(job.id, (photo: File) =>
    uploadCoatPhoto(job.id, { photo, bare, piece: piece.trim() ? Number(piece) : null }),
  )
  const practise = useJobWrite(job.id, () =>
    body(
      api.POST('/api/jobs/{job_id}/coat/practice-shot', {
        params: { path: { job_id: job.id } },
        body: { fault, with_bare: true },
      }),
    ),
  )
  const start = (photo: File) => {
    setWaiting(photo)
    send.mutate(photo, {
      onSuccess: (kept) => {
        setWaiting(null)
        show(kept.id)
      },
    })
  }
  useWarningBeforeLeaving(waiting !== null)
  return (
    <Card accent title="Even enough?">
      <p className="text-2xl leading-tight font-bold">{HOW[wayOf(proof)].title}</p>
      <RefusalScope error={send.error}>
        <div className="mt-3 grid gap-3">
          <TypedField
            label="Piece number"
            name="piece"
            inputMode="numeric"
            placeholder="any"
            value={piece}
            set={setPiece}
          />
          <FilePick pick={setBare} disabled={send.isPending}>
            {bare ? `Bare: ${bare.name}` : 'First, if you have it: the bare piece'}
          </FilePick>
          <FilePick main pick={start} disabled={send.isPending}>
            {send.isPending ? 'Measuring …' : 'Photo of the coat'}
          </FilePick>
        </div>
      </RefusalScope>
      {send.error && (
        <div className="mt-3">
          <Problem error={send.error} again={waiting ? () => start(waiting) : undefined} />
        </div>
      )}
      <More heading="Try it with a simulated photo" className="mt-3">
        <SelectField
          label="A coat that is"
          name="fault"
          value={fault}
          onChange={(e) => setFault(e.target.value)}
        >
          {FAULTS.map(([key, label]) => (
            <option key={key} value={key}>
              {label}
            </option>
          ))}
        </SelectField>
        <Button
          className="mt-2 w-full"
          disabled={practise.isPending}
          onClick={() => practise.mutate(undefined, { onSuccess: (kept) => show(kept.id) })}
        >
          {practise.isPending ? 'Photographing …' : 'Take a simulated photo'}
        </Button>
        <p className="mt-1 text-sm text-soft">It is marked as simulated and never counts for this job.</p>
        {practise.error && <Problem error={practise.error} />}
      </More>
    </Card>
  )
}

/** While a photo is on its way or waits for another try, the browser asks before it lets go of it. */
function useWarningBeforeLeaving(holds: boolean) {
  useEffect(() => {
    if (!holds) return
    const ask = (event: BeforeUnloadEvent) => event.preventDefault()
    window.addEventListener('beforeunload', ask)
    return () => window.removeEventListener('beforeunload', ask)
  }, [holds])
}
