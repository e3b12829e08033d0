import type { Schema } from '../../api/client'
import type { Slice } from '../../api/hooks'
import type { Job } from '../../api/types'
import { Problem } from '../../ui/feedback'
import { Button, Card } from '../../ui/parts'
import { useUnits } from '../../ui/units'
import { useNextCells } from './useNextCells'

const sliceOf = ({ interval_mm, passes = 1 }: Schema<'SettingOut'>) => ({ interval_mm, passes })

/** What may open a window that is shut, the likeliest first. */
export function OpenersCard({
  job,
  data,
  look,
}: {
  job: Job
  data: Schema<'WindowOut'>
  look: (slice: Slice) => void
}) {
  const { showSpeed } = useUnits()
  const next = useNextCells(job, data)
  const { openers, point } = data.recommendation
  return (
    <Card title={point ? 'What may widen it' : 'What may open it'}>
      {openers.map((o) => (
        <div key={o.change} className="border-b border-line py-2 last:border-0">
          <p className="font-bold">{o.words}</p>
          <p className="text-sm text-soft">
            Our guess: {Math.round(100 * o.chance)} in 100 that a setting keeps{' '}
            {Math.round(100 * data.recommendation.wanted_share)} of 100 pieces clean then.
            {o.saved_pieces !== null &&
              ` Of your ${job.pieces} pieces it may save about ${o.saved_pieces.toFixed(1)}.`}
          </p>
          {o.start && (
            <>
              <p className="font-mono text-sm">
                begin near {o.start.power_pct} %, {showSpeed(o.start.speed_mm_s)}
              </p>
              <div className="mt-1 flex flex-wrap gap-2">
                <Button
                  disabled={!data.can_lock || next.isPending}
                  onClick={() => o.start && next.draw({ kind: 'next', ...sliceOf(o.start) })}
                >
                  Draw cells there
                </Button>
                <Button
                  look="quiet"
                  className="-ml-2"
                  onClick={() => o.start && look({ ...sliceOf(o.start), film_share: 1 })}
                >
                  Look at that window
                </Button>
              </div>
            </>
          )}
        </div>
      ))}
      {next.error && <Problem error={next.error} />}
      <p className="mt-2 text-sm text-soft">
        Another coat, a thinner or more even one, and glass that is not cold come before all of these.
      </p>
    </Card>
  )
}
