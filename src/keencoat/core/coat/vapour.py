"""Vapour of coats that are still wet: when it burns, and what to mind while mixing, coating and drying.

Flash points and explosive limits: IEC 60079-20-1:2010, as in handbook tables (checked against the chemicals package);
mixtures of vapours by Σ cᵢ/LELᵢ (Le Chatelier 1891). Guidance to read a label by; the label and the safety data sheet
come first.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from keencoat.core.coat.ingredients import propellant_share, water_share
from keencoat.core.coat.recipes import Carrier, Coat
from keencoat.core.coat.tools import Motion, Tool
from keencoat.core.errors import require_positive
from keencoat.core.substrate import Family, Substrate

_MOLAR_L = 24.055
"""Litres of gas a mole makes at 20 °C and 101.325 kPa."""


@dataclass(frozen=True)
class Vapour:
    """What evaporates: flash point in °C, explosive limits in per cent by volume, g/ml and g/mol of the liquid."""

    name: str
    flash_c: float
    lower_pct: float
    upper_pct: float
    density_g_ml: float
    molar_g: float

    @property
    def limit_per_ml(self) -> float:
        """Cubic metres of air that 1 ml of the liquid brings to the lower limit."""
        return self.density_g_ml / self.molar_g * _MOLAR_L / 1000 / (self.lower_pct / 100)


ISOPROPANOL = Vapour("isopropanol", 12.0, 2.0, 12.7, 0.787, 60.1)
CAN_SOLVENTS = (
    Vapour("acetone", -20.0, 2.5, 14.3, 0.790, 58.08),
    Vapour("ethyl acetate", -4.0, 2.0, 12.8, 0.900, 88.11),
    Vapour("butyl acetate", 22.0, 1.2, 8.5, 0.882, 116.16),
    Vapour("methyl ethyl ketone", -10.0, 1.5, 13.4, 0.805, 72.11),
    Vapour("toluene", 4.0, 1.0, 7.8, 0.867, 92.14),
    Vapour("xylene", 25.0, 0.9, 7.6, 0.861, 106.17),
    Vapour("hexane", -22.0, 1.0, 8.9, 0.659, 86.18),
)
"""The usual solvents of spray paint, of which a label names a few."""

_BOILS = -100.0
PROPELLANTS = (
    Vapour("propane", _BOILS, 1.7, 10.9, 0.500, 44.10),
    Vapour("butane", _BOILS, 1.4, 9.3, 0.579, 58.12),
    Vapour("dimethyl ether", _BOILS, 2.7, 32.0, 0.668, 46.07),
)
"""What drives a spray can: gases that burn at any temperature; density of the liquid under its own pressure."""


def worst(liquids: Sequence[Vapour]) -> Vapour:
    """The one of which the least fills a room to its lower limit."""
    return max(liquids, key=lambda v: v.limit_per_ml)


def vapours_of(coat: Coat, tool: Tool) -> list[tuple[Vapour, float]]:
    """What evaporates and burns, each with its share of the mix by volume: all that is neither solid nor water.

    A can's solvents and propellant are taken as the worst of the usual ones; other tools meet no propellant.
    """
    if not coat.is_put_on or coat.carrier not in (Carrier.ALCOHOL, Carrier.SOLVENT):
        return []
    gas = propellant_share(coat.parts, tool)
    liquid = max(0.0, 1 - coat.volume_solids.value - water_share(coat.parts)) * (1 - gas)
    carried = ISOPROPANOL if coat.carrier is Carrier.ALCOHOL else worst(CAN_SOLVENTS)
    return [(carried, liquid), *([(worst(PROPELLANTS), gas)] if gas else [])]


def share_of_limit(vapours: Sequence[tuple[Vapour, float]], wet_ml: float, room_m3: float) -> float:
    """Share of the lower explosive limit that all vapour of `wet_ml` of mix would reach in a closed room."""
    require_positive(wet_ml, "wet_ml", "ml")
    require_positive(room_m3, "room_m3", "m³")
    return sum(wet_ml * share * vapour.limit_per_ml for vapour, share in vapours) / room_m3


@dataclass(frozen=True)
class Caution:
    """One thing to mind, at the step where it matters: mix, apply or dry."""

    code: str
    step: str
    text: str


def _vapour_text(coat: Coat, tool: Tool, wet_ml: float) -> str:
    vapours = vapours_of(coat, tool)
    if coat.carrier is Carrier.ALCOHOL:
        v = ISOPROPANOL
        text = f"Vapour of {v.name} burns from {v.flash_c:.0f} °C up, between {v.lower_pct:g} and {v.upper_pct:g} % in "
        text += "air."
    else:
        lowest = min(v.flash_c for v in CAN_SOLVENTS)
        text = f"A can's solvents differ: their vapour may burn from {lowest:.0f} °C up, and from "
        text += f"{min(v.lower_pct for v in CAN_SOLVENTS):g} % in air; read the label."
    if tool.motion is Motion.SPRAY:
        text += " A sprayed mist catches fire below that, at any room's warmth."
    if len(vapours) > 1:
        text += " The propellant (propane, butane, dimethyl ether) burns too, and gathers at the floor."
    text += " No spark, no flame, no burning until dry."
    if wet_ml > 0:
        text += f" All of this mix in a closed room of 20 m³: {100 * share_of_limit(vapours, wet_ml, 20):.0f} % of "
        text += "the lower limit on average, and far more near the pieces. Air the room."
    return text


def coat_cautions(coat: Coat, tool: Tool, substrate: Substrate, wet_ml: float = 0.0) -> list[Caution]:
    """What to mind with this coat, tool and piece; `wet_ml` is the batch's mix."""
    cautions = []
    if vapours_of(coat, tool):
        cautions.append(Caution("vapour", "apply", _vapour_text(coat, tool, wet_ml)))
    if any(part.ingredient == "tio2" for part in coat.parts):
        cautions.append(
            Caution("dust", "mix", "Titanium dioxide dust: mask on, no draught, wipe up wet, never sweep dry.")
        )
    if tool.motion is Motion.SPRAY:
        cautions.append(Caution("mist", "apply", "Spray mist: mask, extraction or outdoors, nozzle away from faces."))
    if coat.carrier is Carrier.SOLVENT:
        cautions.append(Caution("skin", "apply", "Solvent goes through skin: gloves that stand it; rags dry outdoors."))
    if coat.is_mixed:
        cautions.append(
            Caution("drain", "mix", "Wipe cups and tools with paper first; pigment and paint do not go down the drain.")
        )
    if substrate.family is Family.GLASS and coat.carrier is Carrier.WATER:
        cautions.append(
            Caution("heat_gun", "dry", "Warm air on glass: keep it moving and away from cold panes, or they crack.")
        )
    if substrate.family is Family.METAL or coat.key == "dish_soap":
        cautions.append(
            Caution("acid", "mix", "Keep soap and acid apart: no shared basin, no bleach, acid into water.")
        )
    cautions += [Caution(f"own_{n}", "apply", text) for n, text in enumerate(coat.cautions, 1)]
    return cautions
