import { useLasted } from '../../api/hooks'
import { LastedMark, TRIALS } from '../../drawing/LastedMark'
import { Card } from '../../ui/parts'
import { useUnits } from '../../ui/units'

/** What held, by coat and setting: later looks at finished pieces. */
export function LastedCard() {
  const found = useLasted().data ?? []
  const { showSpeed } = useUnits()
  if (found.length === 0) return null
  return (
    <Card title="What lasted" className="mb-4">
      <ul>
        {found.map((one) => (
          <li
            key={`${one.substrate} ${one.coat} ${one.machine} ${one.setting.power_pct} ${one.setting.speed_mm_s}`}
            className="grid gap-x-6 border-b border-line py-2 last:border-0 md:grid-cols-[minmax(0,3fr)_minmax(0,2fr)_auto]"
          >
            <span>
              <b>{one.coat}</b> on {one.substrate}
              <span className="block text-sm text-soft">
                {one.machine},{' '}
                <span className="font-mono">
                  {one.setting.power_pct} %, {showSpeed(one.setting.speed_mm_s)}
                </span>
              </span>
            </span>
            <span className="text-sm text-soft">
              {one.by_trial.map((trial) => `${TRIALS[trial.trial]}: ${trial.held} of ${trial.of}`).join('; ')}
            </span>
            <span className="flex items-center gap-3">
              <span className="font-mono">
                {one.held} of {one.of} held
              </span>
              <LastedMark share={one.share} />
            </span>
          </li>
        ))}
      </ul>
      <p className="mt-2 text-sm text-soft">The bar holds the true share nine times in ten.</p>
    </Card>
  )
}
