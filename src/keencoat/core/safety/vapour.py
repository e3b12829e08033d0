"""Vapour of coats that are still wet: when it burns, and what to mind while mixing, coating and drying.

Flash points and explosive limits: IEC 60079-20-1:2010, as in handbook tables (checked against the chemicals package).
Guidance to read a label by; the label and the safety data sheet come first.
"""

from dataclasses import dataclass

from keencoat.core.coat.recipes import Carrier, Coat
from keencoat.core.coat.tools import Motion, Tool
from keencoat.core.errors import require_positive
from keencoat.core.substrate.materials import Family, Substrate

_MOLAR_L = 24.0
"""Litres of gas a mole makes at 20 °C."""


@dataclass(frozen=True)
class Vapour:
    """What evaporates: flash point in °C, explosive limits in per cent by volume, g/ml and g/mol of the liquid."""

    name: str
    flash_c: float
    lower_pct: float
    upper_pct: float
    density_g_ml: float
    molar_g: float
    liquid_share: float


VAPOURS: dict[Carrier, Vapour] = {
    Carrier.ALCOHOL: Vapour("isopropanol", 12.0, 2.0, 12.7, 0.787, 60.1, 0.46),
    # A can's solvents differ; acetone has the lowest flash point among the usual ones.
    Carrier.SOLVENT: Vapour("acetone, taken as the worst of a can's solvents", -20.0, 2.5, 14.3, 0.790, 58.1, 0.8),
}


@dataclass(frozen=True)
class Caution:
    """One thing to mind, at the step where it matters: mix, apply or dry."""

    code: str
    step: str
    text: str


def share_of_limit(vapour: Vapour, wet_ml: float, room_m3: float) -> float:
    """Share of the lower explosive limit that all the liquid of `wet_ml` of mix would reach in a closed room."""
    require_positive(wet_ml, "wet_ml", "ml")
    require_positive(room_m3, "room_m3", "m³")
    moles = wet_ml * vapour.liquid_share * vapour.density_g_ml / vapour.molar_g
    return 100 * moles * _MOLAR_L / 1000 / room_m3 / vapour.lower_pct


def coat_cautions(coat: Coat, tool: Tool, substrate: Substrate, wet_ml: float = 0.0) -> list[Caution]:
    """What to mind with this coat, tool and piece; `wet_ml` is the batch's mix."""
    cautions = []
    vapour = VAPOURS.get(coat.carrier)
    if vapour and coat.is_put_on:
        burns = f"Vapour of {vapour.name} burns from {vapour.flash_c:.0f} °C up, between {vapour.lower_pct:g} and "
        burns += f"{vapour.upper_pct:g} % in air. No spark, no flame, no burning until dry."
        if wet_ml > 0:
            burns += f" All of this mix in a closed room of 20 m³: {100 * share_of_limit(vapour, wet_ml, 20):.0f} % of "
            burns += "the lower limit on average, and far more near the pieces. Air the room."
        cautions.append(Caution("vapour", "apply", burns))
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
    if substrate.family is Family.GLASS and coat.carrier is not Carrier.NONE:
        cautions.append(
            Caution("heat_gun", "dry", "Warm air on glass: keep it moving and away from cold panes, or they crack.")
        )
    if substrate.family is Family.METAL or coat.key == "dish_soap":
        cautions.append(
            Caution("acid", "mix", "Keep soap and acid apart: no shared basin, no bleach, acid into water.")
        )
    cautions += [Caution(f"own_{n}", "apply", text) for n, text in enumerate(coat.cautions, 1)]
    return cautions
