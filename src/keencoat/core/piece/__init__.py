"""Pieces: flat and round ones.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.piece.girths import Girth, GirthTool, NarrowEnd, Wall, WallKind, read_wall
from keencoat.core.piece.round import Piece, RoundPiece, make_piece

__all__ = [
    "FlatPiece",
    "Girth",
    "GirthTool",
    "NarrowEnd",
    "Piece",
    "RoundPiece",
    "Shape",
    "Wall",
    "WallKind",
    "make_piece",
    "read_wall",
]
