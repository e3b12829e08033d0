import { Link } from 'react-router'
import { useDueAgain } from '../../api/hooks'
import { Card } from '../../ui/parts'
import { dayAndClock } from '../../ui/units'

/** Batches whose clean pieces nobody looked at for a while: do they still hold? */
export function AgainCard() {
  const due = useDueAgain().data ?? []
  if (due.length === 0) return null
  return (
    <Card title="Look again: do they still hold?">
      <ul className="-my-2">
        {due.map((batch) => (
          <li key={`${batch.job_id} ${batch.number}`} className="border-b border-line last:border-0">
            <Link to={`/jobs/${batch.job_id}/run`} className="block min-h-11 py-2.5 hover:underline">
              <span className="block font-bold">{batch.job_name}</span>
              <span className="text-soft">
                batch {batch.number}, {batch.pieces} clean on {dayAndClock(batch.closed_at)}
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </Card>
  )
}
