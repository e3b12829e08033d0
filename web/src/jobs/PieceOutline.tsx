import type { ReactNode } from 'react'
import type { Schema } from '../api/client'

export type Outline = Pick<Schema<'JobOut'>, 'shape' | 'width_mm' | 'height_mm' | 'margin_mm'>

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
