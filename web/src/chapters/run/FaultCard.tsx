import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import { useJobWrite, usePractice } from '../../api/hooks'
import { keys } from '../../api/keys'
import type { Job } from '../../api/types'
import { Problem } from '../../ui/feedback'
import { SelectField } from '../../ui/form'
import { More } from '../../ui/More'
import { Button } from '../../ui/parts'
import { namesOf } from './taskWords'

const TO_COME = ['waiting', 'placed', 'framed']

/** Practice: put a fault into a piece that still waits, and find it again. */
export function FaultCard({ job, batch }: { job: Job; batch: Schema<'BatchOut'> }) {
  const practice = usePractice().data
  const client = useQueryClient()
  const waiting = batch.rows.filter((row) => TO_COME.includes(row.state))
  const [fault, setFault] = useState('surprise')
  const [piece, setPiece] = useState('')
  const [done, setDone] = useState('')
  const put = useJobWrite(job.id, () => {
    const ids = fault === 'surprise' ? [] : [Number(piece || waiting[0]?.id)]
    return body(
      api.POST('/api/batches/{batch_id}/practice/faults', {
        params: { path: { batch_id: batch.id } },
        body: { ids, fault },
      }),
    ).then((shown) => {
      client.setQueryData(keys.job(job.id, 'batches', batch.id), shown)
      return shown
    })
  })
  if (waiting.length === 0) return null
  return (
    <More
      heading="Put a fault in, and find it again"
      className="rounded-2xl border border-line bg-card px-4 py-1"
    >
      <div className="grid gap-3 pb-3 sm:grid-cols-2">
        <SelectField label="Fault" name="fault" value={fault} onChange={(e) => setFault(e.target.value)}>
          {practice?.faults.map((one) => (
            <option key={one.key} value={one.key}>
              {one.label}
            </option>
          ))}
        </SelectField>
        {fault !== 'surprise' && (
          <SelectField label="Into" name="piece" value={piece} onChange={(e) => setPiece(e.target.value)}>
            {waiting.map((row) => (
              <option key={row.id} value={row.id}>
                {namesOf([row])}
              </option>
            ))}
          </SelectField>
        )}
      </div>
      <Button
        disabled={put.isPending}
        onClick={() =>
          put.mutate(undefined, {
            onSuccess: () =>
              setDone(fault === 'surprise' ? 'One of the pieces has a fault now.' : 'It is in.'),
          })
        }
      >
        Put it in
      </Button>
      {done && (
        <p role="status" className="py-2">
          {done}
        </p>
      )}
      {put.error && <Problem error={put.error} />}
    </More>
  )
}
