"""A burned grid read from a photo: frame, cells, doubts, proposals.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.reading.cells import CellReading, GridReading
from keencoat.core.reading.evidence import beyond_boundaries, join_readings
from keencoat.core.reading.gridplan import Sight
from keencoat.core.reading.rate import Proposal, Tuning, propose
from keencoat.core.reading.shot import GridShot, read_grid_shot
from keencoat.core.reading.tune import Judged, tune
from keencoat.core.reading.wall import Bend

__all__ = [
    "Bend",
    "CellReading",
    "GridReading",
    "GridShot",
    "Judged",
    "Proposal",
    "Sight",
    "Tuning",
    "beyond_boundaries",
    "join_readings",
    "propose",
    "read_grid_shot",
    "tune",
]
