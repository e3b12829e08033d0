import { useRoomTaken } from '../../api/hooks'
import { Problem } from '../../ui/feedback'
import { Card } from '../../ui/parts'

/** The owner's view of what the workshop keeps on the server, and of what it may. */
export function RoomTakenCard() {
  const taken = useRoomTaken()
  if (taken.isError) return <Problem error={taken.error} again={() => void taken.refetch()} />
  if (!taken.data) return null
  const { jobs, most_jobs, photos, most_photos, photo_mb, most_photo_mb } = taken.data
  return (
    <Card title="Room on the server">
      <Share label="Jobs" now={jobs} most={most_jobs} />
      <Share label="Photos" now={photos} most={most_photos} />
      <Share label="Photos, MB" now={Math.round(photo_mb)} most={most_photo_mb} />
      <p className="mt-2 text-sm text-soft">
        The practice bench counts too. Owners can delete jobs on the Jobs page; the logbook keeps its lines.
      </p>
    </Card>
  )
}

function Share({ label, now, most }: { label: string; now: number; most: number }) {
  return (
    <div className="py-1.5">
      <p className="flex justify-between gap-3">
        <span>{label}</span>
        <span className="font-mono">
          {now} of {most}
        </span>
      </p>
      <div
        role="meter"
        aria-label={label}
        aria-valuenow={now}
        aria-valuemin={0}
        aria-valuemax={most}
        className="mt-1 h-2 overflow-hidden rounded-full bg-line"
      >
        <div
          className={`h-full ${now > 0.9 * most ? 'bg-ember' : 'bg-glaze'}`}
          style={{ width: `${Math.min(100, (100 * now) / most)}%` }}
        />
      </div>
    </div>
  )
}
