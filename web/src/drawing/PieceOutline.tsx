import type { ReactNode } from 'react'
import type { Schema } from '../api/client'

export type Outline = Pick<Schema<'JobOut'>, 'shape' | 'width_mm' | 'height_mm' | 'narrow_mm' | 'margin_mm'>

/** The piece seen from above, true in proportion; children are drawn in mm from its centre, y down. */
export function PieceOutline({
  piece,
  children,
  maxHeight = 240,
  label,
}: {
  piece: Outline
  children?: ReactNode
  maxHeight?: number
  label?: string
}) {
  const width = piece.width_mm > 0 ? piece.width_mm : 1
  const height = piece.height_mm > 0 ? piece.height_mm : 1
  const edge = Math.max(width, height) * 0.02
  const hair = Math.max(width, height) / 300
  const inner = { w: Math.max(0, width - 2 * piece.margin_mm), h: Math.max(0, height - 2 * piece.margin_mm) }
  return (
    <svg
      viewBox={`${-width / 2 - edge} ${-height / 2 - edge} ${width + 2 * edge} ${height + 2 * edge}`}
      style={{ maxHeight }}
      className="mx-auto w-full"
      role={children ? 'group' : 'img'}
      aria-label={label ?? `The piece from above, ${width} by ${height} mm`}
    >
      {piece.shape === 'disc' ? (
        <>
          <circle r={width / 2} className="fill-glass stroke-soft" strokeWidth={hair} />
          <circle r={Math.max(0, width / 2 - piece.margin_mm)} className="fill-coat" />
        </>
      ) : piece.shape === 'cylinder' || piece.shape === 'frustum' ? (
        <SideView piece={piece} width={width} height={height} hair={hair} />
      ) : (
        <>
          <rect
            x={-width / 2}
            y={-height / 2}
            width={width}
            height={height}
            className="fill-glass stroke-soft"
            strokeWidth={hair}
          />
          <rect x={-inner.w / 2} y={-inner.h / 2} width={inner.w} height={inner.h} className="fill-coat" />
        </>
      )}
      {children}
    </svg>
  )
}

/** A round piece seen from its side, the wider end down; the coat between its bare ends. */
function SideView({
  piece,
  width,
  height,
  hair,
}: {
  piece: Outline
  width: number
  height: number
  hair: number
}) {
  const narrow = piece.shape === 'frustum' && piece.narrow_mm > 0 ? Math.min(piece.narrow_mm, width) : width
  const half = (share: number) => (narrow + (width - narrow) * share) / 2
  const band = (from: number, to: number) =>
    `M${-half(from)} ${(from - 0.5) * height}H${half(from)}L${half(to)} ${(to - 0.5) * height}H${-half(to)}Z`
  const bare = Math.min(0.49, Math.max(0, piece.margin_mm / height))
  return (
    <>
      <path d={band(0, 1)} className="fill-glass stroke-soft" strokeWidth={hair} />
      <path d={band(bare, 1 - bare)} className="fill-coat" />
      <ellipse
        cy={-height / 2}
        rx={narrow / 2}
        ry={narrow / 16}
        className="fill-glass stroke-soft"
        strokeWidth={hair}
      />
    </>
  )
}
