"""How warm patches and plates get.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.heat.artwork import ArtBurn, ArtHeat, art_heat_findings, artwork_heat
from keencoat.core.heat.cooling import WASHABLE_RISE_K, cooling_s
from keencoat.core.heat.grid import GridHeat, findings_of, grid_heat
from keencoat.core.heat.kept import kept_share
from keencoat.core.heat.plate import mean_rise_k
from keencoat.core.heat.properties import thermal_of

__all__ = [
    "WASHABLE_RISE_K",
    "ArtBurn",
    "ArtHeat",
    "GridHeat",
    "art_heat_findings",
    "artwork_heat",
    "cooling_s",
    "findings_of",
    "grid_heat",
    "kept_share",
    "mean_rise_k",
    "thermal_of",
]
