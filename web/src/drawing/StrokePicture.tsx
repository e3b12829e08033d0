/** How the hand moves on the piece: brush or spray strokes in their direction, circles for wiping, a sheet for laying. */
export function StrokePicture({
  degrees,
  motion,
  label,
}: {
  degrees: number
  motion: string
  label: string
}) {
  const dashes = motion === 'spray' ? '1 7' : undefined
  return (
    <svg viewBox="0 0 88 60" role="img" aria-label={`${label}, strokes at ${degrees} degrees`}>
      <rect x="1" y="1" width="86" height="58" rx="4" className="fill-glass stroke-soft" />
      <g
        className="stroke-ink"
        strokeWidth={motion === 'spray' ? 5 : 7}
        strokeLinecap="round"
        strokeDasharray={dashes}
        fill="none"
        opacity={0.7}
      >
        {motion === 'lay' ? (
          <rect x="16" y="11" width="56" height="38" rx="2" strokeWidth="2" />
        ) : motion === 'wipe' ? (
          [22, 44, 66].map((x) => <circle key={x} cx={x} cy="30" r="9" strokeWidth="3" />)
        ) : degrees ? (
          [14, 26, 38, 50, 62, 74].map((x) => <path key={x} d={`M${x} 9V51`} />)
        ) : (
          [12, 24, 36, 48].map((y) => <path key={y} d={`M10 ${y}H78`} />)
        )}
      </g>
      {motion !== 'lay' && motion !== 'wipe' && (
        <path
          d={degrees ? 'M44 14V44M37 37L44 45L51 37' : 'M22 30H66M59 23L67 30L59 37'}
          className="fill-none stroke-ember"
          strokeWidth="3"
          strokeLinecap="round"
        />
      )}
    </svg>
  )
}
