import type { Schema } from '../api/client'
import { RatingMark, type Rating } from './RatingMark'

type Burn = Schema<'LoggedBurnOut'>

const SIDE = 12

/** The cells or pieces of a burn in their order, each by the shape of what it did; a dot for one not looked at. */
export function BurnMarks({ burn, className = '' }: { burn: Burn; className?: string }) {
  const { marks } = burn
  const columns = burn.columns || Math.min(marks.length, Math.ceil(Math.sqrt(marks.length * 1.6))) || 1
  const rows = Math.ceil(marks.length / columns)
  return (
    <svg
      role="img"
      aria-label={wordsOf(burn)}
      viewBox={`0 0 ${columns * SIDE} ${rows * SIDE}`}
      className={className}
    >
      {marks.map((mark, i) => {
        const [x, y] = [((i % columns) + 0.5) * SIDE, (Math.floor(i / columns) + 0.5) * SIDE]
        if (mark === '') return <circle key={i} cx={x} cy={y} r={1.5} className="fill-soft" />
        if (mark === 'spoilt')
          return (
            <path
              key={i}
              d={`M${x} ${y - 4}L${x + 4.4} ${y + 3.6}H${x - 4.4}Z`}
              className="fill-none stroke-ember"
              strokeWidth={1.8}
              strokeLinejoin="round"
            />
          )
        return <RatingMark key={i} rating={mark as Rating} x={x} y={y} size={3.4} />
      })}
    </svg>
  )
}

/** What a burn came to, in words. */
export function wordsOf(burn: Burn): string {
  const counts = (['clean', 'faint', 'harsh', 'spoilt'] as const)
    .filter((name) => burn[name] > 0)
    .map((name) => `${burn[name]} ${name}`)
  const unseen = burn.units - burn.clean - burn.faint - burn.harsh - burn.spoilt
  if (unseen > 0) counts.push(`${unseen} not looked at`)
  return counts.join(', ')
}

/** The share of each outcome as one bar: whole for clean, rising, falling and crossed hatches for the others. */
export function OutcomeBar({ burn }: { burn: Burn }) {
  const seen = burn.clean + burn.faint + burn.harsh + burn.spoilt
  if (seen === 0) return <div aria-hidden className="h-3 rounded-full border border-dashed border-soft" />
  const parts = [
    ['clean', burn.clean, 'bg-glaze'],
    ['faint', burn.faint, 'border-y-2 border-frost bg-frost-tint'],
    [
      'harsh',
      burn.harsh,
      'bg-[repeating-linear-gradient(45deg,var(--ember)_0_3px,var(--ember-tint)_3px_6px)]',
    ],
    [
      'spoilt',
      burn.spoilt,
      'bg-[repeating-linear-gradient(90deg,var(--ember)_0_2px,var(--ember-tint)_2px_7px)]',
    ],
  ] as const
  return (
    <div aria-hidden className="flex h-3 overflow-hidden rounded-full bg-line">
      {parts.map(
        ([name, count, look]) =>
          count > 0 && <div key={name} className={look} style={{ width: `${(100 * count) / seen}%` }} />,
      )}
    </div>
  )
}
