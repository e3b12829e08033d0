"""How warm patches and plates get.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.heat.artwork import ArtBurn, ArtHeat, art_heat_findings, artwork_heat
from keencoat.core.heat.grid import GridHeat, findings_of, grid_heat
from keencoat.core.heat.kept import kept_share
from keencoat.core.heat.properties import thermal_of

__all__ = [
    "ArtBurn",
    "ArtHeat",
    "GridHeat",
    "art_heat_findings",
    "artwork_heat",
    "findings_of",
    "grid_heat",
    "kept_share",
    "thermal_of",
]
