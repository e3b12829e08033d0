import type { Schema } from '../api/client'

/** A jig on its sheet from above: pockets with their numbers, or with what lies in them (`labels` by pocket: the others
 * stay empty), crosses, and lines that say where holes point; mm. */
export function JigView({
  jig,
  sheet,
  labels,
}: {
  jig: Schema<'JigOut'>
  sheet: [number, number]
  labels?: Record<number, string>
}) {
  const [width, height] = sheet
  const hair = Math.max(width, height) / 400
  const edge = `M${jig.edge.map(([x, y]) => `${x} ${-(y ?? 0)}`).join('L')}Z`
  const low = Math.min(...jig.edge.map(([, y]) => y ?? 0))
  const type = Math.min(6 * hair * 2, -low)
  const wide = 2 * Math.max(...jig.edge.map(([x]) => x ?? 0))
  const size = (number: number) => Math.min(type, (1.5 * wide) / (labels?.[number]?.length ?? 1))
  return (
    <figure>
      <svg
        viewBox={`${-4 * hair} ${-height - 4 * hair} ${width + 8 * hair} ${height + 8 * hair}`}
        className="mx-auto max-h-[28rem] w-full"
        role="img"
        aria-label={`A jig of ${jig.pockets.length} pockets on ${width} by ${height} mm`}
      >
        <rect
          y={-height}
          width={width}
          height={height}
          className="fill-frost-tint stroke-soft"
          strokeWidth={2 * hair}
        />
        {jig.pockets.map((pocket) => (
          <g key={pocket.number} transform={`translate(${pocket.x_mm} ${-pocket.y_mm})`}>
            <path d={edge} className="fill-card stroke-ink" strokeWidth={1.5 * hair} />
            <text
              textAnchor="middle"
              y={size(pocket.number) / 3}
              fontSize={size(pocket.number)}
              className="fill-soft font-mono"
            >
              {labels ? labels[pocket.number] : pocket.number}
            </text>
          </g>
        ))}
        {jig.hole_lines.map(([a, b], n) => (
          <line
            key={n}
            x1={a?.[0]}
            y1={-(a?.[1] ?? 0)}
            x2={b?.[0]}
            y2={-(b?.[1] ?? 0)}
            className="stroke-ember"
            strokeWidth={2 * hair}
          />
        ))}
        {jig.crosses_mm.map(([x, y], n) => (
          <path
            key={n}
            d={`M${(x ?? 0) - 3} ${-(y ?? 0)}h6M${x} ${-(y ?? 0) - 3}v6`}
            className="stroke-frost"
            strokeWidth={2 * hair}
          />
        ))}
      </svg>
      <figcaption className="mt-2 text-sm text-soft">
        {jig.pockets.length} pockets{jig.like_honeycomb ? ', like a honeycomb' : ''}; crosses to line the jig
        up by.
      </figcaption>
    </figure>
  )
}
