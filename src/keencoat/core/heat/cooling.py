"""How long a burned piece takes until it can be touched and washed.

As one lump, T = T₀·e^(−t/τ), τ = ρ·c·d/h (Incropera, Fundamentals of Heat and Mass Transfer, ch. 5, from memory): right
while h·d/k is small, as for glass and tile; acrylic stays warm inside a little longer than its skin says.
"""

import math

from keencoat.core.errors import require_positive
from keencoat.core.heat.plate import RADIATED_W_M2_K
from keencoat.core.heat.properties import Thermal
from keencoat.core.sources import Cited, own_estimate

MOST_LOST_W_M2_K: Cited[float] = own_estimate(20.0)
"""What both faces of a piece may lose to moved air and by radiation, for each kelvin; the least is what one dark face
radiates."""

WASHABLE_RISE_K: Cited[float] = own_estimate(15.0)
"""How much warmer than the room a piece may be that is touched and washed."""


def cooling_s(rise_k: float, rest_k: float, thickness_mm: float, thermal: Thermal) -> tuple[float, float]:
    """Least and most seconds until a rise over the room has fallen to `rest_k`."""
    require_positive(thickness_mm, "thickness_mm", "mm")
    require_positive(rest_k, "rest_k", "K")
    if rise_k <= rest_k:
        return 0.0, 0.0
    stored_j_m2_k = 1e6 * thermal.volume_heat_j_mm3_k * thickness_mm
    quick, slow = (stored_j_m2_k / h * math.log(rise_k / rest_k) for h in (MOST_LOST_W_M2_K.value, RADIATED_W_M2_K))
    return quick, slow
