import { scaleTime } from 'd3-scale'
import { Link } from 'react-router'
import type { Schema } from '../api/client'
import { clock } from '../ui/units'
import { countdown } from '../ui/useNow'
import { useWidth } from '../ui/useSize'

type Job = Schema<'JobOut'>
const ROW = 52
const TOP = 26

/** Who is ready when: one bar a job, from the coat put on to the next coat or the burn; the rule is the server's. */
export function DryingLine({ jobs, now }: { jobs: Job[]; now: number }) {
  const { ref, width } = useWidth(900)
  const narrow = width < 560
  const left = narrow ? 0 : 210
  const ends = jobs.map((job) => new Date(job.drying.next_at ?? now).getTime())
  const starts = jobs.map((job) => new Date(job.drying.put_on_at ?? now).getTime())
  const from = Math.min(...starts, now) - 4 * 60_000
  const to = Math.max(...ends, now) + 10 * 60_000
  const room = Math.max(width, 260)
  const x = scaleTime([from, to], [left, room - (narrow ? 64 : 120)])
  const row = narrow ? ROW + 22 : ROW
  const height = TOP + jobs.length * row + 18
  return (
    <div ref={ref}>
      <svg
        width={room}
        height={height}
        className="block max-w-full"
        role="img"
        aria-label={spoken(jobs, now)}
      >
        {x.ticks(narrow ? 4 : 7).map((tick) => (
          <g key={tick.getTime()}>
            <line x1={x(tick)} x2={x(tick)} y1={TOP - 6} y2={height - 16} className="stroke-line" />
            <text x={x(tick)} y={12} textAnchor="middle" className="fill-soft font-mono text-xs">
              {clock(tick.toISOString())}
            </text>
          </g>
        ))}
        {jobs.map((job, index) => {
          const y = TOP + index * row + (narrow ? 26 : 6)
          const start = x(new Date(job.drying.put_on_at ?? now))
          const end = x(new Date(job.drying.next_at ?? now))
          const at = Math.min(Math.max(x(now), start), end)
          return (
            <g key={job.id}>
              <text x={0} y={narrow ? y - 10 : y + 11} className="fill-ink text-sm font-bold">
                {job.name}
              </text>
              {!narrow && (
                <text x={0} y={y + 28} className="fill-soft text-xs">
                  {job.coat_label}, {job.drying.coats_on} of {job.drying.coats_planned}
                </text>
              )}
              <rect
                x={start}
                y={y}
                width={end - start}
                height={24}
                rx={6}
                className="fill-glaze-tint stroke-glaze"
              />
              <rect
                x={start}
                y={y}
                width={at - start}
                height={24}
                rx={6}
                className="fill-glaze"
                opacity={0.75}
              />
              <line x1={end} x2={end} y1={y - 4} y2={y + 28} className="stroke-ink" strokeWidth={2} />
              <text x={end + 8} y={y + 10} className="fill-ink text-sm font-bold">
                {clock(job.drying.next_at ?? '')}
              </text>
              <text x={end + 8} y={y + 25} className="fill-soft font-mono text-xs">
                {countdown(job.drying.next_at ?? '', now)}
              </text>
            </g>
          )
        })}
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
        {jobs.map((job) => (
          <li key={job.id}>
            <Link to={`/jobs/${job.id}/coat`}>{job.name}</Link>
          </li>
        ))}
      </ul>
    </div>
  )
}

function spoken(jobs: Job[], now: number): string {
  return jobs
    .map(
      (job) =>
        `${job.name}: coat ${job.drying.coats_on} dries for another ${countdown(job.drying.next_at ?? '', now)}`,
    )
    .join('. ')
}
