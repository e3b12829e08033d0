"""Units, machines, settings and what they do to a square millimetre.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.quantities.energy import (
    areal_energy_j_mm2,
    dwell_ms,
    line_energy_j_mm,
    minutes_per_dm2,
    overlap_lines,
    power_for_energy_pct,
)
from keencoat.core.quantities.estimate import Range
from keencoat.core.quantities.setting import Art, BeamSource, Machine, Setting, require_reachable, typed_speed_mm_s
from keencoat.core.quantities.slice import Slice
from keencoat.core.quantities.units import MM_PER_INCH, UNITS, Quantity, show

__all__ = [
    "MM_PER_INCH",
    "UNITS",
    "Art",
    "BeamSource",
    "Machine",
    "Quantity",
    "Range",
    "Setting",
    "Slice",
    "areal_energy_j_mm2",
    "dwell_ms",
    "line_energy_j_mm",
    "minutes_per_dm2",
    "overlap_lines",
    "power_for_energy_pct",
    "require_reachable",
    "show",
    "typed_speed_mm_s",
]
