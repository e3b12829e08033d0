import type { Schema } from '../../api/client'

type Size = Pick<Schema<'JobOut'>, 'shape' | 'width_mm' | 'height_mm' | 'narrow_mm'>

export function pieceSize(piece: Size): string {
  if (piece.shape === 'disc') return `Ø ${piece.width_mm} mm`
  if (piece.shape === 'cylinder') return `Ø ${piece.width_mm} × ${piece.height_mm} mm`
  if (piece.shape === 'frustum') return `Ø ${piece.width_mm}–${piece.narrow_mm} × ${piece.height_mm} mm`
  return `${piece.width_mm} × ${piece.height_mm} mm`
}

export function countText(pieces: number): string {
  return pieces === 1 ? '1 piece' : `${pieces} pieces`
}
