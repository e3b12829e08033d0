import type { Schema } from '../../api/client'
import type { Slice } from '../../api/hooks'
import { Button, Card } from '../../ui/parts'
import { useUnits } from '../../ui/units'
import type { MapPlace } from '../../drawing/WindowMap'

const NAMES: Record<Schema<'SettingSchool'>, string> = {
  fastest_cell: 'Fastest clean cell',
  forgiving: 'Most forgiving point',
  cooler_passes: 'Two cooler passes',
}

/** What others would take, and what it would cost in pieces and time. */
export function OthersCard({
  others,
  pick,
  look,
  data,
}: {
  others: Schema<'OtherOut'>[]
  pick: (place: MapPlace) => void
  look: (slice: Slice) => void
  data: Schema<'WindowOut'>
}) {
  const { showSpeed } = useUnits()
  const show = ({ point }: Schema<'OtherOut'>) =>
    point.interval_mm === data.interval_mm && point.passes === data.passes
      ? pick(point)
      : look({ interval_mm: point.interval_mm, passes: point.passes, film_share: 1 })
  return (
    <Card title="Other ways to choose">
      {others.map((o) => (
        <div key={o.school} className="border-b border-line py-2 last:border-0">
          <p className="font-bold">
            {NAMES[o.school]} {o.code && <span className="font-mono font-normal">{o.code}</span>}
          </p>
          <p className="font-mono text-sm">
            {o.point.power_pct} %, {showSpeed(o.point.speed_mm_s)}
            {o.point.passes > 1 && `, ${o.point.passes} passes`}
          </p>
          <p className="text-sm text-soft">{o.words}</p>
          <Button look="quiet" className="-ml-2" onClick={() => show(o)}>
            Look at it
          </Button>
        </div>
      ))}
    </Card>
  )
}
