import type { Schema } from '../../api/client'
import type { Slice } from '../../api/hooks'
import { Button, Card } from '../../ui/parts'
import { useUnits } from '../../ui/units'

/** What may open a window that is shut, the likeliest first. */
export function OpenersCard({
  openers,
  look,
}: {
  openers: Schema<'OpenerOut'>[]
  look: (slice: Slice) => void
}) {
  const { showSpeed } = useUnits()
  return (
    <Card title="What may open it">
      {openers.map((o) => (
        <div key={o.change} className="border-b border-line py-2 last:border-0">
          <p className="font-bold">{o.words}</p>
          <p className="text-sm text-soft">
            Our guess: {Math.round(100 * o.chance)} in 100 that it opens one.
          </p>
          {o.start && (
            <>
              <p className="font-mono text-sm">
                begin near {o.start.power_pct} %, {showSpeed(o.start.speed_mm_s)}
              </p>
              <Button
                look="quiet"
                className="-ml-2"
                onClick={() =>
                  o.start &&
                  look({ interval_mm: o.start.interval_mm, passes: o.start.passes ?? 1, film_share: 1 })
                }
              >
                Look at that window
              </Button>
            </>
          )}
        </div>
      ))}
      <p className="mt-2 text-sm text-soft">
        Another coat, a thinner or more even one, and glass that is not cold come before all of these.
      </p>
    </Card>
  )
}
