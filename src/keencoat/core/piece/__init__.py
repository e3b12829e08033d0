"""Pieces: flat and round ones.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.piece.round import Piece, make_piece

__all__ = [
    "FlatPiece",
    "Piece",
    "Shape",
    "make_piece",
]
