/** A chance as a bar in ten squares: as many full as in ten would be so. */
export function ChanceBar({ share }: { share: number }) {
  return (
    <svg
      viewBox="0 0 100 8"
      className="mt-1 h-3 w-full max-w-80"
      preserveAspectRatio="xMinYMid"
      role="img"
      aria-label={`${Math.round(100 * share)} in 100`}
    >
      {Array.from({ length: 10 }, (_, n) => (
        <g key={n}>
          <rect x={n * 10 + 0.5} y={0.5} width={8} height={7} rx={2} className="fill-line" />
          <rect
            x={n * 10 + 0.5}
            y={0.5}
            width={8 * Math.min(1, Math.max(0, 10 * share - n))}
            height={7}
            rx={2}
            className="fill-glaze"
          />
        </g>
      ))}
    </svg>
  )
}
