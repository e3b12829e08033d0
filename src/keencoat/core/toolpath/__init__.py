"""What a laser does, as columns of moves; its time, energy and G-code.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.toolpath.both_ways import BothWays, MeasuredOffset, read_both_ways, stripe_test
from keencoat.core.toolpath.dots import DotRaster
from keencoat.core.toolpath.gcode import BEAM_OFF, gcode_lines, write_gcode
from keencoat.core.toolpath.letters import Stroke, has_stroke, text_strokes, text_width_mm
from keencoat.core.toolpath.placed import Placed, require_on_bed
from keencoat.core.toolpath.polylines import Polylines
from keencoat.core.toolpath.program import (
    Item,
    Moves,
    Part,
    Streamed,
    Task,
    energy_on_piece_j,
    extent_of,
    joined,
)
from keencoat.core.toolpath.raster import bayer, line_count, overscan_mm, raster_moves, stroke_moves
from keencoat.core.toolpath.strain import Strain, StrainError, require_runs, strain_at
from keencoat.core.toolpath.timing import burn_time_s, move_time_s, moves_time_s
from keencoat.core.toolpath.words import comments

__all__ = [
    "BEAM_OFF",
    "BothWays",
    "DotRaster",
    "Item",
    "MeasuredOffset",
    "Moves",
    "Part",
    "Placed",
    "Polylines",
    "Strain",
    "StrainError",
    "Streamed",
    "Stroke",
    "Task",
    "bayer",
    "burn_time_s",
    "comments",
    "energy_on_piece_j",
    "extent_of",
    "gcode_lines",
    "has_stroke",
    "joined",
    "line_count",
    "move_time_s",
    "moves_time_s",
    "overscan_mm",
    "raster_moves",
    "read_both_ways",
    "require_on_bed",
    "require_runs",
    "strain_at",
    "stripe_test",
    "stroke_moves",
    "text_strokes",
    "text_width_mm",
    "write_gcode",
]
