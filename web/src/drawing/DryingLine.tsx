import { scaleTime } from 'd3-scale'
import { Link } from 'react-router'
import type { Schema } from '../api/client'
import { clock, dayAndClock } from '../ui/units'
import { countdown } from '../ui/useNow'
import { useWidth } from '../ui/useSize'
import { horizon, type DryingBar } from './dryingBars'

const ROW = 52
const TOP = 26
const HANDS = 30

/** Who is ready when, and where the hands go next: bars from the coat put on to the next coat or the burn, with their
 *  range, and the turns of one pair of hands below. The rules are the server's. */
export function DryingLine({
  bars,
  turns,
  now,
}: {
  bars: DryingBar[]
  turns: Schema<'TurnOut'>[]
  now: number
}) {
  const { ref, width } = useWidth(900)
  const narrow = width < 560
  const left = narrow ? 0 : 210
  const time = (iso: string | null) => (iso ? Date.parse(iso) : now)
  const ends = [...bars.map((b) => time(b.group.next_at)), ...turns.map((t) => time(t.end))]
  const starts = bars.map((b) => time(b.group.put_on_at))
  const to = now + horizon(ends.map((end) => Math.max(0, end - now))) + 10 * 60_000
  // A long wait must not squeeze what is due soon: no more than half of the line lies in the past.
  const from = Math.max(Math.min(...starts, now) - 4 * 60_000, now - (to - now))
  const room = Math.max(width, 260)
  const x = scaleTime([from, to], [left, room - (narrow ? 92 : 120)])
  const row = narrow ? ROW + 22 : ROW
  const handsTop = TOP + bars.length * row
  const handsLabel = narrow ? 14 : 0
  const height = handsTop + (turns.length ? HANDS + 14 + handsLabel : 0) + 18
  return (
    <div ref={ref}>
      <svg
        width={room}
        height={height}
        className="block max-w-full"
        role="img"
        aria-label={spoken(bars, now)}
      >
        {x.ticks(Math.max(2, Math.floor((room - left) / 90))).map((tick) => (
          <g key={tick.getTime()}>
            <line x1={x(tick)} x2={x(tick)} y1={TOP - 6} y2={height - 16} className="stroke-line" />
            <text x={x(tick)} y={12} textAnchor="middle" className="fill-soft font-mono text-xs">
              {clock(tick.toISOString())}
            </text>
          </g>
        ))}
        {bars.map((bar, index) => (
          <Bar
            key={bar.key}
            bar={bar}
            y={TOP + index * row + (narrow ? 26 : 6)}
            {...{ x, now, narrow, from, to }}
          />
        ))}
        {turns.length > 0 && (
          <g>
            <text x={0} y={handsTop + (narrow ? 16 : 22)} className="fill-ink text-sm font-bold">
              Your hands
            </text>
            {turns.map((turn) => (
              <rect
                key={`${turn.job_id}-${turn.number}-${turn.first}`}
                x={x(time(turn.start))}
                y={handsTop + 8 + handsLabel}
                width={Math.max(3, x(time(turn.end)) - x(time(turn.start)) - 1)}
                height={20}
                rx={3}
                className="fill-ember-tint stroke-ember"
              >
                <title>{turnText(turn)}</title>
              </rect>
            ))}
          </g>
        )}
        <line
          x1={x(now)}
          x2={x(now)}
          y1={TOP - 8}
          y2={height - 16}
          className="stroke-ember"
          strokeWidth={2}
        />
        <text
          x={x(now)}
          y={height - 3}
          textAnchor="middle"
          className="fill-ember font-mono text-xs font-bold"
        >
          now
        </text>
      </svg>
      <ul className="sr-only">
        {bars.map((bar) => (
          <li key={bar.key}>
            <Link to={`/jobs/${bar.job.id}/coat`}>{bar.job.name}</Link>
          </li>
        ))}
      </ul>
    </div>
  )
}

function Bar({
  bar,
  y,
  x,
  now,
  narrow,
  from,
  to,
}: {
  bar: DryingBar
  y: number
  x: (at: number) => number
  now: number
  narrow: boolean
  from: number
  to: number
}) {
  const { group, job, pieces } = bar
  const start = x(Math.max(from, Date.parse(group.put_on_at ?? '')))
  const due = Date.parse(group.next_at ?? '')
  const beyond = due > to
  const end = Math.max(start + 2, x(Math.min(due, to)))
  const at = Math.min(Math.max(x(now), start), end)
  const low = Math.max(start, x(Date.parse(group.earliest_at ?? '')))
  const waits = due <= now
  return (
    <g>
      <text x={0} y={narrow ? y - 10 : y + 11} className="fill-ink text-sm font-bold">
        {job.name.length > 28 ? `${job.name.slice(0, 27)}…` : job.name}
      </text>
      {!narrow && (
        <text x={0} y={y + 28} className="fill-soft text-xs">
          {pieces === 'all' ? '' : `pieces ${pieces}, `}coat {group.coats_on} of {group.coats_planned}
        </text>
      )}
      <rect x={start} y={y} width={end - start} height={24} rx={6} className="fill-glaze-tint stroke-glaze" />
      <rect x={start} y={y} width={at - start} height={24} rx={6} className="fill-glaze" opacity={0.75} />
      {low < end && low > start && (
        <line x1={low} x2={low} y1={y + 4} y2={y + 20} className="stroke-ink" strokeDasharray="2 3">
          <title>{`at the earliest ${clock(group.earliest_at ?? '')}`}</title>
        </line>
      )}
      {beyond ? (
        <path
          d={`M${end - 6} ${y + 4}L${end + 3} ${y + 12}L${end - 6} ${y + 20}`}
          className="fill-none stroke-ink"
          strokeWidth={2}
        />
      ) : (
        <line x1={end} x2={end} y1={y - 4} y2={y + 28} className="stroke-ink" strokeWidth={2} />
      )}
      <text x={end + 8} y={y + 10} className={`text-sm font-bold ${waits ? 'fill-ember' : 'fill-ink'}`}>
        {waits ? 'due now' : dayAndClock(group.next_at ?? '')}
      </text>
      {!waits && (
        <text x={end + 8} y={y + 25} className="fill-soft font-mono text-xs">
          {countdown(group.next_at ?? '', now)}
        </text>
      )}
    </g>
  )
}

export function turnText(turn: Schema<'TurnOut'>): string {
  const pieces = turn.first === turn.last ? `piece ${turn.first}` : `pieces ${turn.first} to ${turn.last}`
  return `${clock(turn.start)} coat ${turn.number} on ${pieces}`
}

function spoken(bars: DryingBar[], now: number): string {
  return bars
    .map(({ job, group, pieces }) => {
      const who = pieces === 'all' ? job.name : `${job.name}, pieces ${pieces}`
      return `${who}: coat ${group.coats_on} dries for another ${countdown(group.next_at ?? '', now)}`
    })
    .join('. ')
}
