/** The locked setting: a filled diamond with a keyhole, rimmed so that it stands out on every ground. */
export function LockedMark({ x, y, size = 11 }: { x: number; y: number; size?: number }) {
  const hole = size / 4
  return (
    <g transform={`translate(${x} ${y})`}>
      <path
        d={`M0 ${-size}L${size} 0L0 ${size}L${-size} 0Z`}
        className="fill-ink stroke-card"
        strokeWidth={size / 4.5}
        strokeLinejoin="round"
      />
      <circle cy={-hole / 2} r={hole} className="fill-card" />
      <path d={`M0 0L${hole * 0.7} ${hole * 1.8}H${-hole * 0.7}Z`} className="fill-card" />
    </g>
  )
}

export function LockedIcon() {
  return (
    <svg aria-hidden viewBox="-13 -13 26 26" className="inline-block size-5 shrink-0">
      <LockedMark x={0} y={0} />
    </svg>
  )
}
