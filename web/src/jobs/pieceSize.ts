import type { Schema } from '../api/client'

export function pieceSize(piece: Pick<Schema<'JobOut'>, 'shape' | 'width_mm' | 'height_mm'>): string {
  return piece.shape === 'disc' ? `Ø ${piece.width_mm} mm` : `${piece.width_mm} × ${piece.height_mm} mm`
}
