"""Materials, and the processes that mark them with their harms.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.substrate.hazards import HAZARDS, Hazard, comes_back, hazards_of
from keencoat.core.substrate.materials import SUBSTRATES, Family, Substrate, find_substrate, marks_bare
from keencoat.core.substrate.processes import DEFECTS, PROCESSES, Process, find_process
from keencoat.core.substrate.through import far_side_words, focus_shift_mm, lower_to_far_side_mm

__all__ = [
    "DEFECTS",
    "HAZARDS",
    "PROCESSES",
    "SUBSTRATES",
    "Family",
    "Hazard",
    "Process",
    "Substrate",
    "comes_back",
    "far_side_words",
    "find_process",
    "find_substrate",
    "focus_shift_mm",
    "hazards_of",
    "lower_to_far_side_mm",
    "marks_bare",
]
