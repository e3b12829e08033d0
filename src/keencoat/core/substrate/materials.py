"""Substrates: what pieces are made of, what they absorb bare, and what is refused.

`bare_absorptance` is the share of the beam that stays near the surface of a clean, uncoated piece
(for clear glass and acrylic: 1 − internal transmittance of 3 mm; for metal: 1 − reflectance).
"""

from dataclasses import dataclass, field
from enum import StrEnum

from keencoat.core.errors import require_known
from keencoat.core.quantities import BeamSource
from keencoat.core.sources import Cited, common_practice, own_estimate

BLUE, NIR, CO2 = BeamSource.BLUE, BeamSource.NEAR_INFRARED, BeamSource.CO2


class Family(StrEnum):
    """What a substrate behaves like."""

    GLASS = "glass"
    CERAMIC = "ceramic"
    ACRYLIC = "acrylic"
    METAL = "metal"
    OTHER_PLASTIC = "other plastic"


@dataclass(frozen=True)
class Substrate:
    """A material. `refused` holds the reason why no beam may touch it, or is empty; `refractive_index` by the beams
    that go through it."""

    key: str
    label: str
    family: Family
    bare_absorptance: dict[BeamSource, Cited[float]]
    passes_light: bool = False
    refused: str = ""
    refractive_index: dict[BeamSource, Cited[float]] = field(default_factory=dict)


def _bends(blue: float, near_infrared: float) -> dict[BeamSource, Cited[float]]:
    return {BLUE: Cited(blue, "refractiveindex"), NIR: Cited(near_infrared, "refractiveindex")}


def _optical(blue: float, near_infrared: float, co2: Cited[float]) -> dict[BeamSource, Cited[float]]:
    return {BLUE: Cited(blue, "refractiveindex"), NIR: Cited(near_infrared, "refractiveindex"), CO2: co2}


_SURFACE_AT_CO2 = Cited(0.84, "refractiveindex")
_HALOGEN = "It gives off chlorine and hydrogen chloride under a beam: it poisons you and eats the machine."

SUBSTRATES: dict[str, Substrate] = {
    s.key: s
    for s in (
        Substrate(
            "soda_lime_glass",
            "clear float glass",
            Family.GLASS,
            _optical(0.016, 0.160, _SURFACE_AT_CO2),
            passes_light=True,
            refractive_index=_bends(1.5319, 1.5129),
        ),
        Substrate(
            "borosilicate_glass",
            "borosilicate glass",
            Family.GLASS,
            _optical(0.012, 0.024, _SURFACE_AT_CO2),
            passes_light=True,
            refractive_index=_bends(1.4790, 1.4621),
        ),
        Substrate(
            "white_glazed_tile",
            "white glazed tile",
            Family.CERAMIC,
            {BLUE: own_estimate(0.10), NIR: own_estimate(0.15), CO2: own_estimate(0.85)},
        ),
        Substrate(
            "painted_tile",
            "painted tile, colour under a dark top coat",
            Family.CERAMIC,
            {BLUE: own_estimate(0.10), NIR: own_estimate(0.15), CO2: own_estimate(0.85)},
        ),
        Substrate(
            "clear_acrylic",
            "clear acrylic (PMMA)",
            Family.ACRYLIC,
            _optical(0.015, 0.023, Cited(0.95, "refractiveindex")),
            passes_light=True,
            refractive_index=_bends(1.4998, 1.4816),
        ),
        Substrate(
            "powder_coated_steel",
            "powder-coated steel",
            Family.METAL,
            {BLUE: own_estimate(0.80), NIR: own_estimate(0.70), CO2: own_estimate(0.90)},
        ),
        Substrate("mild_steel", "mild steel", Family.METAL, _optical(0.50, 0.37, Cited(0.02, "refractiveindex"))),
        Substrate("brass", "brass sheet", Family.METAL, _optical(0.57, 0.05, Cited(0.02, "refractiveindex"))),
        Substrate("aluminium", "aluminium", Family.METAL, _optical(0.08, 0.05, Cited(0.01, "refractiveindex"))),
        Substrate("pvc", "PVC or vinyl", Family.OTHER_PLASTIC, {}, refused=_HALOGEN),
        Substrate(
            "unknown_plastic",
            "plastic, kind not known",
            Family.OTHER_PLASTIC,
            {},
            refused="It may be PVC, which gives off chlorine under a beam. Find its name on a data sheet first.",
        ),
        Substrate(
            "polycarbonate",
            "polycarbonate",
            Family.OTHER_PLASTIC,
            {},
            refused="It chars, burns and smokes instead of marking.",
        ),
        Substrate(
            "abs",
            "ABS",
            Family.OTHER_PLASTIC,
            {},
            refused="It melts and gives off hydrogen cyanide and styrene.",
        ),
        Substrate(
            "ptfe",
            "PTFE",
            Family.OTHER_PLASTIC,
            {},
            refused="Overheated, it gives off fluorine compounds that harm lungs.",
        ),
        Substrate(
            "epoxy_grp",
            "epoxy board or fibreglass",
            Family.OTHER_PLASTIC,
            {},
            refused="Its resin smoke is toxic and its glass fibres are dust.",
        ),
        Substrate(
            "beryllium_copper",
            "beryllium copper",
            Family.METAL,
            {},
            refused="Beryllium fume causes lasting lung disease.",
        ),
    )
}

BARE_MARK_LIMIT: Cited[float] = common_practice(0.25)
"""Below this share of beam kept at the surface, a bare piece of glass, ceramic or acrylic takes no usable mark."""


def find_substrate(key: str) -> Substrate:
    """The substrate of that key; raises UnknownNameError that lists the keys."""
    return SUBSTRATES[require_known(key, SUBSTRATES, "substrate")]


def marks_bare(substrate: Substrate, source: BeamSource) -> bool:
    """Whether the beam of `source` is absorbed well enough to mark the uncoated piece."""
    absorptance = substrate.bare_absorptance.get(source)
    return absorptance is not None and absorptance.value >= BARE_MARK_LIMIT.value
