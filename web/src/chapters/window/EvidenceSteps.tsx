import type { Schema } from '../../api/client'

const STEPS: [Schema<'Evidence'>, string][] = [
  ['guess', 'guess'],
  ['grid', 'cells'],
  ['confirmed', 'full patch'],
  ['proven', 'proven'],
]

/** How well the setting is known: four steps, the one reached filled. */
export function EvidenceSteps({
  level,
  proven,
  what,
}: {
  level: Schema<'Evidence'>
  proven: number
  what: string
}) {
  const reached = STEPS.findIndex(([key]) => key === level)
  return (
    <div className="mt-4">
      <p className="mb-1 text-xs text-soft">How well it is known: {what.toLowerCase()}</p>
      <ol className="grid grid-cols-4 gap-1 text-center text-xs">
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
    </div>
  )
}
