"""Jigs: pockets that hold a batch in place, what else is cut to hold things, and how a load is burned in them.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.jig.cut_sheet import CutSheet, sheet_dxf, sheet_gcode, sheet_svg
from keencoat.core.jig.drawing import sheet_of
from keencoat.core.jig.fitting import play_left_mm
from keencoat.core.jig.guide import Feet, guide_sheet
from keencoat.core.jig.layout import Jig, JigSpec, Pocket, lay_jig
from keencoat.core.jig.load_program import LoadProgram
from keencoat.core.jig.loads import Seat, closest_mm, cooling_order, from_pocket, loads_of, still_warm
from keencoat.core.jig.seating import Seating, off_bed, seat
from keencoat.core.jig.stops import stops_sheet
from keencoat.core.jig.trial import trial_plays, trial_sheet

__all__ = [
    "CutSheet",
    "Feet",
    "Jig",
    "JigSpec",
    "LoadProgram",
    "Pocket",
    "Seat",
    "Seating",
    "closest_mm",
    "cooling_order",
    "from_pocket",
    "guide_sheet",
    "lay_jig",
    "loads_of",
    "off_bed",
    "play_left_mm",
    "seat",
    "sheet_dxf",
    "sheet_gcode",
    "sheet_of",
    "sheet_svg",
    "still_warm",
    "stops_sheet",
    "trial_plays",
    "trial_sheet",
]
