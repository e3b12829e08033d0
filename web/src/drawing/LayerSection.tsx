import type { Schema } from '../api/client'

type Job = Pick<
  Schema<'JobOut'>,
  'thickness_mm' | 'substrate_label' | 'coat_label' | 'coat_colour' | 'layer_um' | 'coats'
>

const COAT_FILL: Record<string, string> = {
  black: 'fill-coat',
  white: 'fill-[#fdfcf8] dark:fill-[#cfd3d6]',
  blue: 'fill-[#4068b5]',
  cream: 'fill-[#d9c9a3]',
  clear: 'fill-frost-tint',
}

/** The piece in cross-section: beam, coats, piece. Thicknesses are not to one scale: a coat would be a hair. */
export function LayerSection({
  job,
  className = '',
  caption = true,
}: {
  job: Job
  className?: string
  caption?: boolean
}) {
  const layers = Math.min(6, Math.max(1, job.coats))
  const coat = Math.min(30, 6 + 4 * layers)
  const piece = Math.min(64, 26 + 4 * job.thickness_mm)
  const top = 40
  const fill = COAT_FILL[job.coat_colour] ?? 'fill-coat'
  const coatText = `${job.coat_label}, about ${Math.round(job.layer_um)} µm dry`
  return (
    <figure className={className}>
      <svg
        viewBox={`0 0 220 ${top + coat + piece + 4}`}
        className="w-full"
        role="img"
        aria-label={`Cross-section: ${coatText}, on ${job.thickness_mm} mm ${job.substrate_label}`}
      >
        <path d={`M0 ${top + coat}H220V${top + coat + piece}H0Z`} className="fill-glass stroke-soft" />
        {Array.from({ length: layers }, (_, index) => {
          const y = top + (index * coat) / layers
          return (
            <g key={index} className={`${fill} stroke-soft`} strokeWidth={0.6}>
              <path d={`M0 ${y}H${88 + index * 3}L${92 + index * 3} ${y + coat / layers}H0Z`} />
              <path d={`M220 ${y}H${132 - index * 3}L${128 - index * 3} ${y + coat / layers}H220Z`} />
            </g>
          )
        })}
        <path d={`M104 0H116L113 ${top + coat}H107Z`} className="fill-ember" opacity={0.85} />
        <path
          d={`M98 ${top + coat}Q110 ${top + coat + 7} 122 ${top + coat}Z`}
          className="fill-card stroke-soft"
        />
      </svg>
      {caption && (
        <figcaption className="mt-1 text-xs text-soft">
          {coatText}; {job.thickness_mm} mm {job.substrate_label}
        </figcaption>
      )}
    </figure>
  )
}
