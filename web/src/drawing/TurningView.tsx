import type { Schema } from '../api/client'

type Round = Schema<'RoundOut'>

/** A round piece from its side as it turns, its marked line brought level by a shim at supports so far apart; all in mm, y down. */
export function TurningView({ round, supports_mm }: { round: Round; supports_mm: number }) {
  const { device, slant_mm, below_mm, above_mm } = round
  const half = (round.half_angle_deg * Math.PI) / 180
  const length = slant_mm * Math.cos(half)
  // The upper line runs from foot to top; brought level it lies along y = 0, and the axis slopes.
  const turn = { cos: Math.cos(half), sin: Math.sin(half) }
  const at = (x: number, up: number): [number, number] => {
    const [dx, dy] = [x, -up + below_mm / 2]
    return [dx * turn.cos - dy * turn.sin, dx * turn.sin + dy * turn.cos]
  }
  const corners = [
    at(0, below_mm / 2),
    at(length, above_mm / 2),
    at(length, -above_mm / 2),
    at(0, -below_mm / 2),
  ]
  const lower = round.profile.map(([height = 0, across = 0]) => at(height, -across / 2))
  const outline = [
    ...round.profile.map(([height = 0, across = 0]) => at(height, across / 2)),
    ...[...lower].reverse(),
  ]
  const axis = [at(-8, 0), at(length + 8, 0)]
  const low = Math.max(...outline.map(([, y]) => y))
  const floor = low + Math.max(8, 0.08 * slant_mm)
  const mark = [round.along_mm - round.mark_height_mm / 2, round.along_mm + round.mark_height_mm / 2]
  const narrow = below_mm < above_mm ? corners[3] : corners[2]
  const wide = below_mm < above_mm ? corners[2] : corners[3]
  const wedge = {
    x: wide && narrow ? wide[0] + Math.sign(narrow[0] - wide[0]) * supports_mm : 0,
    high: device?.shim_mm ?? 0,
  }
  /** The height of the piece's lower line there. */
  const lowAt = (x: number) => heightAt(lower, x)
  const pad = Math.max(10, 0.14 * slant_mm)
  const type = Math.max(3, slant_mm / 32)
  const box = [-pad, -pad, slant_mm + 2 * pad, floor + 2 * pad] as const
  const path = (points: [number, number][]) => `M${points.map((p) => p.join(' ')).join('L')}`
  const tapered = (device?.angle_deg ?? 0) > 0.05
  return (
    <figure>
      <svg
        viewBox={box.join(' ')}
        className="mx-auto max-h-96 w-full"
        role="img"
        aria-label={`The piece from its side, ${length.toFixed(0)} mm long, Ø ${below_mm.toFixed(0)} to ${above_mm.toFixed(0)} mm${tapered ? `, its narrow end raised by ${device?.shim_mm.toFixed(1)} mm` : ''}`}
      >
        <line
          x1={box[0]}
          y1={floor}
          x2={box[0] + box[2]}
          y2={floor}
          className="stroke-soft"
          strokeWidth={0.8}
        />
        {tapered && narrow && wide && (
          <g>
            <path
              d={`M${wide[0]} ${floor}L${wedge.x} ${floor}L${wedge.x} ${floor - wedge.high}Z`}
              className="fill-frost-tint stroke-frost"
              strokeWidth={0.4}
            />
            <line
              x1={wedge.x}
              y1={lowAt(wedge.x)}
              x2={wedge.x}
              y2={floor - wedge.high}
              className="stroke-soft"
              strokeWidth={1.2}
            />
            <text
              x={(wide[0] + wedge.x) / 2}
              y={floor + 1.7 * type}
              textAnchor="middle"
              fontSize={type}
              className="fill-frost font-mono"
            >
              raise {device?.shim_mm.toFixed(1)} mm
            </text>
          </g>
        )}
        {wide && (
          <line
            x1={wide[0]}
            y1={lowAt(wide[0])}
            x2={wide[0]}
            y2={floor}
            className="stroke-soft"
            strokeWidth={1.2}
          />
        )}
        {!tapered && corners[2] && (
          <line
            x1={corners[2][0]}
            y1={lowAt(corners[2][0])}
            x2={corners[2][0]}
            y2={floor}
            className="stroke-soft"
            strokeWidth={1.2}
          />
        )}
        <path d={`${path(outline)}Z`} className="fill-glass stroke-soft" strokeWidth={0.8} />
        <path d={path(axis)} className="stroke-soft" strokeWidth={0.4} strokeDasharray="6 2 1 2" />
        <text
          x={axis[1]?.[0]}
          y={(axis[1]?.[1] ?? 0) - 1.5}
          textAnchor="end"
          fontSize={type}
          className="fill-soft"
        >
          axis
        </text>
        <rect x={mark[0]} y={0} width={round.mark_height_mm} height={type * 0.9} className="fill-coat" />
        <line x1={mark[0]} y1={-2} x2={mark[1]} y2={-2} className="stroke-glaze" strokeWidth={1.2} />
        <text x={round.along_mm} y={-4} textAnchor="middle" fontSize={type} className="fill-glaze">
          level here
        </text>
        <path
          d={`M${round.along_mm - 1.6} ${box[1]}h3.2l-1.3 ${-box[1] - 3 - 1.4 * type}h-.6Z`}
          className="fill-ember"
        />
        {round.supports.map((support) => {
          const [x] = at(support.at_mm, 0)
          return (
            <g key={support.at_mm}>
              <path d={`M${x} ${floor}l-2.4 4h4.8Z`} className="fill-soft" />
            </g>
          )
        })}
      </svg>
      <figcaption className="mt-2 text-sm text-soft">
        Foot on the left, beam from above. Triangles below show where it is carried
        {tapered ? '; the marked line is level, so that all of it is in focus.' : '.'}
      </figcaption>
    </figure>
  )
}

/** The height of a line of points (rising in x) at x; past its ends its last pieces go on. */
function heightAt(line: [number, number][], x: number) {
  const found = line.findIndex(([right]) => right >= x)
  const next = found < 0 ? line.length - 1 : Math.max(1, found)
  const [x0, y0] = line[next - 1] ?? [0, 0]
  const [x1, y1] = line[next] ?? [1, 0]
  return y0 + ((x - x0) / (x1 - x0)) * (y1 - y0)
}
