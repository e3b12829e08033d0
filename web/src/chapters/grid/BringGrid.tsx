import { Upload } from 'lucide-react'
import { useState } from 'react'
import { uploadGrid } from '../../api/client'
import { useJobWrite } from '../../api/hooks'
import type { Job } from '../../api/types'
import { drawnGrid } from './drawnGrid'
import { Problem } from '../../ui/feedback'
import { Card } from '../../ui/parts'
import { More } from '../../ui/More'
import { TickField } from '../../ui/form'

/** A grid that was made and burned elsewhere, from its table. */
export function BringGrid({ job, done }: { job: Job; done: () => void }) {
  const [framed, setFramed] = useState(false)
  const bring = useJobWrite(job.id, (file: File) => uploadGrid(job.id, file, framed, drawnGrid(job)))
  return (
    <Card title="Burned elsewhere?">
      <More heading="Bring in a grid from a table">
        <p className="text-soft">
          CSV or JSON, one line a cell: code (row letter, column number), power_pct, speed_mm_s; if you have
          them interval_mm, passes, x_mm, y_mm, rating, defects.
        </p>
        <TickField className="mt-2" checked={framed} onChange={(e) => setFramed(e.target.checked)}>
          It carries our frame (saved here, burned elsewhere)
        </TickField>
        <label className="mt-2 inline-flex min-h-11 w-full cursor-pointer items-center justify-center gap-2 rounded-xl border border-line px-4 font-bold has-focus-visible:outline-3 has-focus-visible:outline-frost hover:border-soft">
          <Upload aria-hidden className="size-4" /> Choose the table
          <input
            type="file"
            accept=".csv,.json,text/csv,application/json"
            className="sr-only"
            disabled={bring.isPending}
            onChange={(event) => {
              const file = event.target.files?.[0]
              event.target.value = ''
              if (file) bring.mutate(file, { onSuccess: done })
            }}
          />
        </label>
        {bring.error && (
          <div className="mt-3">
            <Problem error={bring.error} />
          </div>
        )}
      </More>
    </Card>
  )
}
