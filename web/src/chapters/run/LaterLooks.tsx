import { useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import { useCatalogue, useJobWrite } from '../../api/hooks'
import type { Job } from '../../api/types'
import { TRIALS } from '../../drawing/LastedMark'
import { Problem } from '../../ui/feedback'
import { RefusalScope, SelectField, TypedField } from '../../ui/form'
import { Button, Chip } from '../../ui/parts'
import { More } from '../../ui/More'
import { dayAndClock } from '../../ui/units'

type Record = Schema<'BatchPieceRecordOut'>
type Trial = Schema<'LaterTrial'>

/** What became of a finished piece: scraped, washed so many times, left alone. */
export function LaterLooks({ job, record }: { job: Job; record: Record }) {
  const labels = new Map(useCatalogue().data?.defects.map((d) => [d.key, d.label]))
  return (
    <div className="mt-3 border-t border-line pt-2">
      {record.later_looks.length > 0 && (
        <ul>
          {record.later_looks.map((look) => (
            <li key={look.at} className="py-1">
              <span className="font-mono text-sm text-soft">{dayAndClock(look.at)}</span>{' '}
              {look.washes ? `${look.washes} washes` : TRIALS[look.trial]}:{' '}
              <b className={look.held ? 'text-glaze' : 'text-ember'}>{look.held ? 'held' : 'failed'}</b>
              {look.defects.length > 0 && `, ${look.defects.map((d) => labels.get(d) ?? d).join(', ')}`}
              {look.note && <span className="block text-sm text-soft">{look.note}</span>}
            </li>
          ))}
        </ul>
      )}
      <More heading="Looked at again later">
        <LaterForm job={job} record={record} />
      </More>
    </div>
  )
}

function LaterForm({ job, record }: { job: Job; record: Record }) {
  const catalogue = useCatalogue().data
  const labels = new Map(catalogue?.defects.map((d) => [d.key, d.label]))
  const defectsOf = catalogue?.processes.find((p) => p.key === job.process)?.defects ?? []
  const [trial, setTrial] = useState<Trial>('time')
  const [washes, setWashes] = useState('')
  const [defects, setDefects] = useState<string[]>([])
  const [note, setNote] = useState('')
  const write = useJobWrite(job.id, (held: boolean) =>
    body(
      api.POST('/api/batch-pieces/{piece_id}/later-looks', {
        params: { path: { piece_id: record.id } },
        body: { trial, held, defects, note, washes: trial === 'dishwasher' ? Number(washes) : null },
      }),
    ),
  )
  const told = (held: boolean) =>
    write.mutate(held, {
      onSuccess: () => {
        setDefects([])
        setNote('')
        setWashes('')
      },
    })
  return (
    <RefusalScope error={write.error}>
      <div className="grid gap-3 sm:grid-cols-2">
        <SelectField
          label="After"
          name="trial"
          value={trial}
          onChange={(event) => setTrial(event.target.value as Trial)}
        >
          {record.trials.map((one) => (
            <option key={one} value={one}>
              {TRIALS[one]}
            </option>
          ))}
        </SelectField>
        {trial === 'dishwasher' && (
          <TypedField label="Washes" name="washes" inputMode="numeric" value={washes} set={setWashes} />
        )}
      </div>
      <div className="my-3 flex flex-wrap gap-2" role="group" aria-label="What is wrong with it now">
        {defectsOf.map((defect) => (
          <Chip
            key={defect}
            on={defects.includes(defect)}
            toggle={() =>
              setDefects(
                defects.includes(defect) ? defects.filter((d) => d !== defect) : [...defects, defect],
              )
            }
          >
            {labels.get(defect) ?? defect}
          </Chip>
        ))}
      </div>
      <TypedField label="Note" name="note" value={note} set={setNote} maxLength={300} />
      <div className="mt-3 flex gap-2">
        <Button look="main" disabled={write.isPending} onClick={() => told(true)}>
          It held
        </Button>
        <Button disabled={write.isPending} onClick={() => told(false)}>
          It failed
        </Button>
      </div>
      {write.error && <Problem error={write.error} />}
    </RefusalScope>
  )
}
