import type { Schema } from '../../api/client'
import { Button, Card } from '../../ui/parts'
import { percent } from '../../ui/units'
import { usePhotoWrites } from './useGridWrites'

/** Where this workshop draws its lines, and how to begin anew. */
export function TuningCard({
  jobId,
  gridId,
  reading,
}: {
  jobId: number
  gridId: number
  reading: Schema<'GridReadingOut'>
}) {
  const { forget } = usePhotoWrites(jobId, gridId)
  const { tuning } = reading
  if (reading.cells.length === 0) return null
  return (
    <Card title="Why it proposes that">
      <p>
        A cell is clean from {percent(tuning.full_at)} of a full mark (usual: {percent(tuning.usual_full_at)}
        ), harsh where a harm passes {tuning.harm_factor.toFixed(2)} times its usual limit.
      </p>
      <p className="mt-2 text-sm text-soft">
        {tuning.cells
          ? `Moved by ${tuning.cells} cells that you rated and a photo measured.`
          : 'Your own ratings move both lines, a little with each.'}
      </p>
      {tuning.cells > 0 && (
        <Button look="quiet" disabled={forget.isPending} onClick={() => forget.mutate()}>
          Forget what was learnt
        </Button>
      )}
    </Card>
  )
}
