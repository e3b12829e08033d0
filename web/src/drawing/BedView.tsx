import type { Schema } from '../api/client'

/** The bed from above with the piece as its touched points say it lies, the mark, and the frame's way; mm, y up. */
export function BedView({ flat, points }: { flat: Schema<'FlatOut'>; points: number[][] }) {
  const { bed_x_mm, bed_y_mm } = flat
  const hair = Math.max(bed_x_mm, bed_y_mm) / 400
  const all = [...flat.piece, ...flat.frame, ...points, [0, 0], [bed_x_mm, bed_y_mm]]
  const left = Math.min(...all.map(([x]) => x ?? 0))
  const right = Math.max(...all.map(([x]) => x ?? 0))
  const low = Math.min(...all.map(([, y]) => y ?? 0))
  const top = Math.max(...all.map(([, y]) => y ?? 0))
  const path = (ring: number[][]) => `M${ring.map(([x, y]) => `${x} ${-(y ?? 0)}`).join('L')}`
  const pad = 10 * hair
  const every = bed_x_mm > 600 ? 200 : 100
  const ticks = Array.from({ length: Math.floor(bed_x_mm / every) + 1 }, (_, n) => n * every)
  const rows = Array.from({ length: Math.floor(bed_y_mm / every) + 1 }, (_, n) => n * every)
  return (
    <figure>
      <svg
        viewBox={`${left - pad} ${-top - pad} ${right - left + 2 * pad} ${top - low + 2 * pad}`}
        className="mx-auto max-h-[32rem] w-full"
        role="img"
        aria-label={`The bed from above, ${bed_x_mm} by ${bed_y_mm} mm${flat.piece.length ? ', with the piece as it lies' : ''}`}
      >
        <rect
          x={0}
          y={-bed_y_mm}
          width={bed_x_mm}
          height={bed_y_mm}
          className="fill-paper stroke-soft"
          strokeWidth={2 * hair}
        />
        {ticks.map((x) => (
          <path key={`x${x}`} d={`M${x} 0V${-bed_y_mm}`} className="stroke-line" strokeWidth={hair} />
        ))}
        {rows.map((y) => (
          <path key={`y${y}`} d={`M0 ${-y}H${bed_x_mm}`} className="stroke-line" strokeWidth={hair} />
        ))}
        {ticks.slice(1).map((x) => (
          <text
            key={x}
            x={x}
            y={-3 * hair}
            textAnchor="end"
            fontSize={11 * hair}
            className="fill-soft font-mono"
          >
            {x}
          </text>
        ))}
        {flat.piece.length > 0 && (
          <>
            <path d={`${path(flat.piece)}Z`} className="fill-glass stroke-soft" strokeWidth={2 * hair} />
            <path d={`${path(flat.art)}Z`} className="fill-coat" />
            <path
              d={path(flat.frame)}
              className="fill-none stroke-ember"
              strokeWidth={1.6 * hair}
              strokeDasharray={`${6 * hair} ${4 * hair}`}
            />
          </>
        )}
        {points.map(([x, y], n) => (
          <g key={n} transform={`translate(${x} ${-(y ?? 0)})`}>
            <path
              d={`M${-5 * hair} 0H${5 * hair}M0 ${-5 * hair}V${5 * hair}`}
              className="stroke-frost"
              strokeWidth={2 * hair}
            />
            <text x={6 * hair} y={-4 * hair} fontSize={12 * hair} className="fill-frost font-bold">
              {n + 1}
            </text>
          </g>
        ))}
      </svg>
      <figcaption className="mt-2 text-sm text-soft">
        {flat.piece.length
          ? 'Crosses: where it was touched. Dashed: the way of the frame, beam off.'
          : 'Zero is at the lower left. The piece is drawn once it was touched often enough.'}
      </figcaption>
    </figure>
  )
}
