import { Link } from 'react-router'
import type { Schema } from '../../api/client'
import { BurnMarks, OutcomeBar, wordsOf } from '../../drawing/BurnMarks'
import { burnAddress } from './burnAddress'
import { dayAndClock, percent, showEnergy, useUnits } from '../../ui/units'

type Burn = Schema<'LoggedBurnOut'>

/** A burn: what it was, what it was burned with, what came of it. */
export function BurnRow({ burn }: { burn: Burn }) {
  const said = burn.clean + burn.faint + burn.harsh + burn.spoilt
  return (
    <Link
      to={burnAddress(burn)}
      className="grid grid-cols-[4.5rem_minmax(0,1fr)] items-center gap-x-4 gap-y-2 py-3 pr-4 hover:bg-paper md:grid-cols-[4.5rem_minmax(0,5fr)_minmax(0,4fr)_minmax(0,3fr)]"
    >
      <Thumb burn={burn} />
      <span className="min-w-0">
        <span className="font-bold">{burn.job_name}</span>, {burn.label}
        <span className="block text-sm text-soft">
          <span className="font-mono">{dayAndClock(burn.at)}</span> · {burn.substrate}, {burn.coat}
        </span>
      </span>
      <span className="col-span-2 min-w-0 md:col-span-1">
        <BurnedWith burn={burn} />
        <span className="block text-sm text-soft">
          {burn.process}, {burn.machine}
        </span>
      </span>
      <span className="col-span-2 grid min-w-0 gap-1 md:col-span-1">
        <OutcomeBar burn={burn} />
        <span className="text-sm">
          {burn.share ? (
            <>
              <b>
                {burn.clean} of {said} clean
              </b>
              <span className="text-soft">
                {' '}
                ({percent(burn.share.low)} to {percent(burn.share.high)})
              </span>
            </>
          ) : (
            wordsOf(burn)
          )}
        </span>
        {burn.defects.length > 0 && (
          <span className="truncate text-sm text-soft">
            {burn.defects
              .slice(0, 3)
              .map((d) => `${d.label}${d.times > 1 ? ` ${d.times}×` : ''}`)
              .join(', ')}
          </span>
        )}
      </span>
    </Link>
  )
}

function Thumb({ burn }: { burn: Burn }) {
  return burn.has_picture ? (
    <img
      src={`/api/logged-burns/${burn.kind}/${burn.row_id}/picture`}
      alt={`Photo: ${burn.label}`}
      loading="lazy"
      className="size-18 rounded-lg bg-paper object-contain"
    />
  ) : (
    <span className="grid size-18 place-items-center rounded-lg bg-paper p-1">
      <BurnMarks burn={burn} className="max-h-full max-w-full" />
    </span>
  )
}

/** The setting, or how far a grid's settings reach and what came clean of it. */
function BurnedWith({ burn }: { burn: Burn }) {
  const { showSpeed, showInterval } = useUnits()
  const { burned, setting, came_clean } = burn
  if (!burned) return <span className="text-sm text-soft">no cell burned to its end</span>
  if (setting)
    return (
      <span className="font-mono text-sm">
        {setting.power_pct} %, {showSpeed(setting.speed_mm_s)}, {showInterval(setting.interval_mm)}
        {setting.passes > 1 && ` × ${setting.passes}`}, {showEnergy(burned.energy_j_mm2.low)}
      </span>
    )
  return (
    <span className="font-mono text-sm">
      {to(burned.power_pct, (p) => `${p}`)} %, {to(burned.speed_mm_s, showSpeed)}
      <span className="block">
        {came_clean
          ? `clean at ${to(came_clean.energy_j_mm2, showEnergy)}`
          : burn.faint + burn.harsh > 0
            ? 'nothing clean'
            : 'not rated yet'}
      </span>
    </span>
  )
}

function to(span: Schema<'SpanOut'>, show: (value: number) => string): string {
  const [low, high] = [show(span.low), show(span.high)]
  if (low === high) return low
  const unit = high.slice(high.indexOf(' '))
  return `${high.includes(' ') && low.endsWith(unit) ? low.slice(0, -unit.length) : low} to ${high}`
}
