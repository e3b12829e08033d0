import type { Schema } from '../api/client'

const STEPS: [Schema<'Evidence'>, string][] = [
  ['guess', 'guess'],
  ['grid', 'from cells'],
  ['confirmed', 'full patch'],
  ['proven', 'proven'],
]

/** How well the setting is known: four steps, the one reached filled. */
export function EvidenceSteps({ level, proven }: { level: Schema<'Evidence'>; proven: number }) {
  const reached = STEPS.findIndex(([key]) => key === level)
  return (
    <ol className="mt-4 grid grid-cols-4 gap-1 text-center text-xs" aria-label="How well it is known">
      {STEPS.map(([key, label], index) => (
        <li
          key={key}
          aria-current={index === reached ? 'step' : undefined}
          className={index <= reached ? '' : 'text-soft'}
        >
          <span
            aria-hidden
            className={`mb-1 block h-1.5 rounded-full ${index <= reached ? 'bg-glaze' : 'bg-line'}`}
          />
          {key === 'proven' && proven ? `proven, ${proven} pcs` : label}
        </li>
      ))}
    </ol>
  )
}
