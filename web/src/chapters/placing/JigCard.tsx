import { useState } from 'react'
import { useFittingJigs } from '../../api/hooks'
import type { Job } from '../../api/types'
import { Problem } from '../../ui/feedback'
import { SelectField } from '../../ui/form'
import { Card } from '../../ui/parts'
import { JigLoads } from './JigLoads'
import { NewJig } from './NewJig'

/** A jig for the batch: one of the shop that its pieces go into, or a new one. */
export function JigCard({ job }: { job: Job }) {
  const found = useFittingJigs(job.id)
  const fitting = found.data ?? []
  const [picked, setPicked] = useState<number | 'new' | null>(null)
  const first = fitting.find((f) => f.kept.machine_id === job.machine_id) ?? fitting[0]
  const shown = picked ?? first?.kept.id ?? 'new'
  return (
    <Card title="A jig for the batch">
      {found.isError && <Problem error={found.error} again={() => void found.refetch()} />}
      {fitting.length > 0 && (
        <div className="mb-3 max-w-md">
          <SelectField
            label="Jig"
            name="jig_id"
            value={shown}
            onChange={(e) => setPicked(e.target.value === 'new' ? 'new' : Number(e.target.value))}
          >
            {fitting.map(({ kept, play_left_mm }) => (
              <option key={kept.id} value={kept.id}>
                {kept.name}: {kept.pockets} pockets, play {play_left_mm.toFixed(1)} mm
              </option>
            ))}
            <option value="new">a new one</option>
          </SelectField>
        </div>
      )}
      {shown === 'new' ? (
        <NewJig job={job} kept={setPicked} />
      ) : (
        <JigLoads key={shown} job={job} jigId={shown} />
      )}
    </Card>
  )
}
