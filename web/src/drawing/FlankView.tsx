import type { Schema } from '../api/client'

type Round = Schema<'RoundOut'>

/** A round wall in cross-section under a fixed head: where the mark would come out clean, and how the share falls to
 * the sides; `strips`: what came of strips that were burned there. All in mm from the ridge, y down. */
export function FlankView({
  round,
  locked,
  strips,
}: {
  round: Round
  locked: boolean
  strips?: Schema<'RidgeOut'>
}) {
  const radius = round.there_mm / 2
  const { head } = round
  const half = (Math.min(180, round.mark_deg) * Math.PI) / 360
  const type = radius / 9
  const beam = (x: number, key: string) => {
    const y = radius - Math.sqrt(Math.max(0, radius ** 2 - x ** 2))
    return (
      <path
        key={key}
        d={`M${x - radius / 9} ${-radius * 0.75}L${x} ${y}L${x + radius / 9} ${-radius * 0.75}Z`}
        className="fill-ember"
        opacity={0.35}
      />
    )
  }
  const arc = (from: number, to: number, out: number) => {
    const r = radius + out
    const at = (a: number) => `${r * Math.sin(a)} ${radius - r * Math.cos(a)}`
    return `M${at(from)}A${r} ${r} 0 0 1 ${at(to)}`
  }
  const bars = head ? steps(head.flank, radius) : []
  const limit = head && head.widest_mm > 0 ? head.widest_mm / 2 : null
  const chart = { top: radius * 1.25, high: radius * 0.6 }
  return (
    <figure>
      <svg
        viewBox={`${-radius * 1.25} ${-radius * 0.8} ${radius * 2.5} ${radius * (head ? 2.85 : 1.9)}`}
        className="mx-auto max-h-[30rem] w-full"
        role="img"
        aria-label={
          head
            ? `A wall of Ø ${round.there_mm.toFixed(0)} mm under a fixed head: a mark up to ${head.widest_mm.toFixed(0)} mm wide comes out clean, this one is ${head.across_mm.toFixed(0)}`
            : `A wall of Ø ${round.there_mm.toFixed(0)} mm under a fixed head`
        }
      >
        <path d={`${arc(-Math.PI / 2, Math.PI / 2, 0)}Z`} className="fill-glass" />
        <path
          d={arc(-Math.PI / 2, Math.PI / 2, 0)}
          className="fill-none stroke-soft"
          strokeWidth={radius / 80}
        />
        {beam(0, 'ridge')}
        {head && [-1, 1].map((side) => beam((side * head.across_mm) / 2, `${side}`))}
        <path d={arc(-half, half, radius / 40)} className="fill-none stroke-coat" strokeWidth={radius / 16} />
        {bars.map(({ from, to, clean }) =>
          [1, -1].map((side) => (
            <path
              key={`${side * from}`}
              d={side > 0 ? arc(from, to, radius / 9) : arc(-to, -from, radius / 9)}
              className="fill-none stroke-glaze"
              strokeWidth={radius / 22}
              opacity={Math.max(0.06, clean)}
            />
          )),
        )}
        {limit !== null &&
          [-1, 1].map((side) => (
            <line
              key={side}
              x1={side * limit}
              y1={-radius * 0.55}
              x2={side * limit}
              y2={chart.top + chart.high}
              className="stroke-frost"
              strokeWidth={radius / 120}
              strokeDasharray={`${radius / 25} ${radius / 40}`}
            />
          ))}
        {limit !== null && (
          <text
            x={0}
            y={radius * 0.62}
            textAnchor="middle"
            fontSize={type * 1.25}
            className="fill-frost font-bold"
          >
            {head?.widest_mm.toFixed(0)} mm
          </text>
        )}
        {head && (
          <g>
            <path
              d={`M${[...mirrored(head.flank)].map(([x, c]) => `${x} ${chart.top + chart.high * (1 - c)}`).join('L')}`}
              className="fill-none stroke-glaze"
              strokeWidth={radius / 60}
            />
            {strips?.aside_mm.map((x, n) => (
              <circle
                key={x}
                cx={x}
                cy={chart.top + chart.high * (1 - (strips.clean[n] ?? 0))}
                r={radius / 35}
                className="fill-ember"
              />
            ))}
            {[0, 0.5, 1].map((share) => (
              <g key={share}>
                <line
                  x1={-radius}
                  x2={radius}
                  y1={chart.top + chart.high * (1 - share)}
                  y2={chart.top + chart.high * (1 - share)}
                  className="stroke-line"
                  strokeWidth={radius / 160}
                />
                <text
                  x={-radius * 1.03}
                  y={chart.top + chart.high * (1 - share) + type / 3}
                  textAnchor="end"
                  fontSize={type * 0.8}
                  className="fill-soft font-mono"
                >
                  {100 * share}
                </text>
              </g>
            ))}
            <text
              x={0}
              y={chart.top + chart.high + type * 1.4}
              textAnchor="middle"
              fontSize={type * 0.9}
              className="fill-soft"
            >
              clean of 100 pieces, beside the ridge
            </text>
          </g>
        )}
      </svg>
      <figcaption className="mt-2 text-sm text-soft">
        {head ? (
          <>
            Dark: this mark, {head.across_mm.toFixed(1)} mm straight across. Beside it the share of clean
            pieces, by this job’s own window: the beam strikes the sides at an angle, weaker and out of focus.
            Focus {head.focus_below_mm.toFixed(1)} mm below the ridge. An estimate, not a promise.
            {strips && ' Dots: strips that were burned there.'}
            {head.at_deg.length > 1 && (
              <>
                {' '}
                In {head.at_deg.length} strips of {head.strip_mm?.toFixed(1)} mm it would go, the piece turned
                to{' '}
                <span className="font-mono">
                  {head.at_deg.map((d) => `${d < 0 ? '−' : ''}${Math.abs(d).toFixed(1)}°`).join(', ')}
                </span>
                .
              </>
            )}
          </>
        ) : locked ? (
          'What a fixed head can mark cannot be told here.'
        ) : (
          'How wide a mark may be is told once a setting is locked: it follows from its margins.'
        )}
      </figcaption>
    </figure>
  )
}

type Flank = NonNullable<Round['head']>['flank']

/** Arcs between the places that were reckoned, with the share in the middle of each. */
function steps(flank: Flank, radius: number) {
  const turn = flank.aside_mm.map((x) => Math.asin(Math.min(1, x / radius)))
  return turn.slice(1).map((to, n) => ({
    from: turn[n] ?? 0,
    to,
    clean: ((flank.clean[n] ?? 0) + (flank.clean[n + 1] ?? 0)) / 2,
  }))
}

function mirrored(flank: Flank): [number, number][] {
  const right = flank.aside_mm.map((x, n): [number, number] => [x, flank.clean[n] ?? 0])
  return [
    ...right
      .slice(1)
      .map(([x, c]): [number, number] => [-x, c])
      .reverse(),
    ...right,
  ]
}
