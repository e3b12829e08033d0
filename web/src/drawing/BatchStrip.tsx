import {
  Circle,
  Droplets,
  Flame,
  OctagonX,
  Scan,
  SkipForward,
  Square,
  ThermometerSnowflake,
  type LucideIcon,
} from 'lucide-react'
import type { Schema } from '../api/client'
import { RatingIcon } from './RatingMark'

type Row = Schema<'BatchRowOut'>

const MARKS: Record<Row['state'], { Icon: LucideIcon; words: string }> = {
  waiting: { Icon: Circle, words: 'waits' },
  placed: { Icon: Square, words: 'lies in place' },
  framed: { Icon: Scan, words: 'framed' },
  burning: { Icon: Flame, words: 'burns' },
  cooling: { Icon: ThermometerSnowflake, words: 'cools' },
  washed: { Icon: Droplets, words: 'washed' },
  looked: { Icon: OctagonX, words: 'spoilt' },
  stopped: { Icon: OctagonX, words: 'stopped' },
  skipped: { Icon: SkipForward, words: 'passed over' },
}

/** Where a piece stands, in words. */
export const standOf = (row: Row) => row.rating ?? MARKS[row.state].words

/** The pieces of a batch in the order of burning, each where it stands: by shape as well as by word. */
export function BatchStrip({
  rows,
  chosen,
  choose,
}: {
  rows: Row[]
  chosen: number | null
  choose: (id: number) => void
}) {
  return (
    <ol className="grid grid-cols-[repeat(auto-fill,minmax(8.5rem,1fr))] gap-2">
      {rows.map((row) => {
        const { Icon } = MARKS[row.state]
        return (
          <li key={row.id}>
            <button
              type="button"
              aria-pressed={row.id === chosen}
              onClick={() => choose(row.id)}
              className={`flex min-h-13 w-full items-center gap-2 rounded-xl border px-2 py-1 text-left ${
                row.id === chosen ? 'border-2 border-ink' : 'border-line hover:border-soft'
              } ${row.newest ? '' : 'opacity-60'}`}
            >
              {row.rating ? (
                <RatingIcon rating={row.rating} />
              ) : (
                <Icon
                  aria-hidden
                  className={`size-4 shrink-0 ${row.state === 'burning' ? 'text-ember' : 'text-soft'}`}
                />
              )}
              <span className="min-w-0 leading-tight">
                <span className="block truncate font-bold">
                  {row.number}
                  {row.attempt > 1 && ', anew'} {row.name}
                </span>
                <span className="block text-sm text-soft">{standOf(row)}</span>
              </span>
            </button>
          </li>
        )
      })}
    </ol>
  )
}
