import type { Schema } from '../api/client'

/** The wall cut open at its back and laid flat, with the mark as both ways bend it; mm, y up. */
export function WrapView({ round, way }: { round: Schema<'RoundOut'>; way: Schema<'ArtWay'> }) {
  const xs = round.flat_wall.map(([x]) => x ?? 0)
  const ys = round.flat_wall.map(([, y]) => y ?? 0)
  const [left, right] = [Math.min(...xs), Math.max(...xs)]
  const [low, top] = [Math.min(...ys), Math.max(...ys)]
  const pad = 0.02 * (right - left)
  const path = (ring: number[][]) => `M${ring.map(([x, y]) => `${x} ${-(y ?? 0)}`).join('L')}Z`
  const hair = (right - left) / 400
  const other = way === 'level' ? 'straight' : 'level'
  const tapered = Math.abs(round.half_angle_deg) > 0.05
  const fitting = round.flat_marks[way] ?? []
  return (
    <figure>
      <svg
        viewBox={`${left - pad} ${-top - pad} ${right - left + 2 * pad} ${top - low + 2 * pad}`}
        className="mx-auto max-h-72 w-full"
        role="img"
        aria-label={`The wall laid flat, ${(right - left).toFixed(0)} mm wide, with the mark ${way === 'level' ? 'bent so that its lines run level' : 'left straight'}`}
      >
        <path d={path(round.flat_wall)} className="fill-glass stroke-soft" strokeWidth={2 * hair} />
        <path d={path(fitting)} className="fill-coat" />
        {tapered && (
          <path
            d={path(round.flat_marks[other] ?? [])}
            className="fill-none stroke-ember"
            strokeWidth={2 * hair}
            strokeDasharray={`${8 * hair} ${5 * hair}`}
          />
        )}
      </svg>
      <figcaption className="mt-2 text-sm text-soft">
        {tapered
          ? `Dark: ${way === 'level' ? 'lines run level round the piece' : 'the art left straight'}. Dashed: ${other === 'level' ? 'lines level' : 'left straight'}, for comparison.`
          : 'The left and the right edge are the same line at the back: the cut.'}
      </figcaption>
    </figure>
  )
}
