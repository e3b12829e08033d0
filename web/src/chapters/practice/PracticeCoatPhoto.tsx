import { api, body, type Schema } from '../../api/client'
import { useJobWrite } from '../../api/hooks'
import type { Job } from '../../api/types'
import { Problem } from '../../ui/feedback'
import { Button, Card } from '../../ui/parts'
import { HOW, wayOf } from '../coat/lighting'

/** A practice piece's own coat, photographed by the simulated phone: on the practice bench it counts. */
export function PracticeCoatPhoto({
  job,
  proof,
  show,
}: {
  job: Job
  proof: Schema<'ProofOut'>
  show: (id: number) => void
}) {
  const photograph = useJobWrite(job.id, () =>
    body(api.POST('/api/jobs/{job_id}/practice/coat-photo', { params: { path: { job_id: job.id } } })),
  )
  const way = wayOf(proof)
  const piece = proof.practice_piece
  const coated = Boolean(job.practice?.coated)
  return (
    <Card accent title="Even enough?">
      <p className="text-2xl leading-tight font-bold">{HOW[way].title}</p>
      <p className="mt-2 text-soft">
        Here the simulated phone does it: it sees the practice piece’s own coat, and its bare face before.{' '}
        {way === 'back'
          ? 'It shows faults; no photo tells how thick a film is that no light comes through.'
          : 'Three pieces tell how much they differ.'}
      </p>
      <Button
        look="main"
        className="mt-3 w-full text-lg"
        disabled={photograph.isPending || piece === null || !coated}
        onClick={() => photograph.mutate(undefined, { onSuccess: (kept) => show(kept.id) })}
      >
        {photograph.isPending
          ? 'Photographing …'
          : `Photograph the coat${piece === null ? '' : ` of piece ${piece}`}`}
      </Button>
      {!coated && <p className="mt-1 text-sm text-soft">Coat the practice pieces first.</p>}
      {photograph.error && <Problem error={photograph.error} />}
    </Card>
  )
}
