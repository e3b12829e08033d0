"""How much of the beam's energy may stay in a piece as heat: from a guess of the least to all that is absorbed."""

from keencoat.core.coat import Coat, density_of_film, transmitted
from keencoat.core.quantities import BeamSource
from keencoat.core.sources import Cited, own_estimate
from keencoat.core.substrate import Substrate

LEAST_KEPT: Cited[float] = own_estimate(0.05)
"""Least share that stays: most may leave with smoke, vapour and glow."""

PAINT_ABSORBS: Cited[float] = own_estimate(0.95)
"""What the blackest matt paint takes of what meets it; the rest is reflected."""


def kept_share(substrate: Substrate, coat: Coat, source: BeamSource, film_um: float) -> tuple[float, float]:
    """Least and largest share of the beam that may stay in the piece as heat.

    The largest is all that coat and piece absorb: the coat by Beer–Lambert for blue light, fully for other beams that
    it takes; what passes it meets the bare piece.
    """
    through = 1.0
    if source in coat.absorbs:
        blue = source is BeamSource.BLUE
        through = transmitted(density_of_film(coat.absorbs_per_mm.value, film_um)) if blue else 0.0
    bare = substrate.bare_absorptance[source].value
    most = PAINT_ABSORBS.value * (1 - through) + bare * through
    return min(LEAST_KEPT.value, most), most
