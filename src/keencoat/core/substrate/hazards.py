"""What a piece may hide that hurts: asked where the piece is chosen, and ticked before the beam goes on.

From general knowledge and makers' data sheets, from memory: labels, data sheets and local codes come first.
"""

from dataclasses import dataclass

from keencoat.core.finding_codes import FindingCode
from keencoat.core.quantities import BeamSource
from keencoat.core.substrate.materials import Family, Substrate


@dataclass(frozen=True)
class Hazard:
    """A hazard of a family of substrates, or of one by its key: what it is, how to tell or what instead, and the
    condition that must be so before the beam goes on. `beams`: those that it comes with."""

    code: FindingCode
    on: tuple[str, ...]
    what: str
    instead: str
    condition: str
    beams: tuple[BeamSource, ...] = tuple(BeamSource)
    source: str = "common-practice"


HAZARDS: tuple[Hazard, ...] = (
    Hazard(
        FindingCode.GLASS_TOUGHENED,
        (Family.GLASS,),
        "Is this glass toughened? Toughened glass may burst into crumbs when it is frosted, at once or days later.",
        "Look for a stamp in a corner, or for dark patches through polarised sunglasses. Leave it if you cannot tell.",
        "Known not to be toughened glass",
    ),
    Hazard(
        FindingCode.GLASS_LEAD,
        (Family.GLASS,),
        "Lead crystal gives off lead where it is marked, and the dust and rinse water hold it.",
        "Heavy, ringing, cut glass is suspect. Never mark where lips or drinks touch; take plain glass.",
        "Known not to be lead crystal; no mark where lips or drinks touch",
    ),
    Hazard(
        FindingCode.GLAZE_METALS,
        (Family.CERAMIC,),
        "Old, hand-made or bright glazes and on-glaze paints may hold lead or cadmium: their fume is poison.",
        "Take new white industrial tile, or ask the maker of the glaze. No mark where food or lips touch.",
        "No lead or cadmium in glaze or paint; no mark where food or lips touch",
    ),
    Hazard(
        FindingCode.ZINC_FUME,
        ("mild_steel", "powder_coated_steel"),
        "Galvanised steel gives off zinc fume under a beam, which brings fever hours later.",
        "Dull grey or spangled metal under the coat is zinc. Take plain steel, or mark outdoors under extraction.",
        "Not galvanised, or the extraction leads outdoors",
    ),
    Hazard(
        FindingCode.FOIL_REFLECTS,
        (Family.ACRYLIC, Family.GLASS),
        "The beam goes through the piece, and comes back from foil or bare metal under it.",
        "Lay it on a dull, dark ground that does not burn: slate, unglazed tile, anodised plate.",
        "A dull ground under the piece; no foil, no bare metal",
        (BeamSource.BLUE, BeamSource.NEAR_INFRARED),
    ),
)


def comes_back(substrate: Substrate, source: BeamSource) -> bool:
    """Whether this beam goes through the piece, and comes back from what shines under it."""
    return any(hazard.code is FindingCode.FOIL_REFLECTS for hazard in hazards_of(substrate, source))


def hazards_of(substrate: Substrate, source: BeamSource) -> list[Hazard]:
    """What this piece may hide under this beam."""
    return [h for h in HAZARDS if source in h.beams and (substrate.family in h.on or substrate.key in h.on)]
