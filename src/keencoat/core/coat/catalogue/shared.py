"""What the coats of the catalogue share: beams, spans, cautions."""

from keencoat.core.coat.recipes import Span
from keencoat.core.quantities import BeamSource
from keencoat.core.sources import Cited, common_practice

BLUE, NIR, CO2 = BeamSource.BLUE, BeamSource.NEAR_INFRARED, BeamSource.CO2
ALL_BEAMS = (BLUE, NIR, CO2)

ALCOHOL = "Alcohol vapour burns: keep it from sparks and flames, air the room, and burn nothing before it is dry."
CAN_VAPOUR = (
    "Spray outdoors or under extraction, with a mask; solvent vapour and propellant burn. Nothing wet under the beam."
)
POWDER = "Fine powder: wear a dust mask, mix without draught, wipe up wet."


def span(low: float, plan: float, high: float) -> Cited[Span]:
    """A range of common practice."""
    return common_practice(Span(low, plan, high))


NO_WAIT = span(0, 0, 0)
