"""What must be so before the beam goes on: the same list on page and sheet."""

import math
from dataclasses import dataclass

from keencoat.core.coat.recipes import Carrier, Coat
from keencoat.core.quantities.setting import BeamSource, Machine
from keencoat.core.safety.eyewear import least_optical_density
from keencoat.core.substrate.materials import Family, Substrate

DEFERENCE = (
    "Guidance, never clearance: your machine's manual, labels, safety data sheets, local rules and licensed "
    "practice come first."
)


@dataclass(frozen=True)
class GateItem:
    """One condition, with the reason beside it."""

    code: str
    text: str
    why: str


def safety_gate(machine: Machine, substrate: Substrate, coat: Coat) -> list[GateItem]:
    """The conditions for burning this substrate and coat on this machine."""
    density = math.ceil(least_optical_density(machine.source, machine.rated_w))
    nanometres = f"{machine.source.wavelength_nm:,.0f}".replace(",", " ")
    items = [
        GateItem(
            "eyewear",
            f"Eyewear for {nanometres} nm, OD {density} or more, on everyone in the room",
            f"{machine.rated_w:g} W straight into an eye; from exposure limits, as guidance (from memory).",
        ),
        GateItem("extraction", "Extraction is running", "Coats give off smoke from the first line on."),
        GateItem("dry", _dry_text(coat), "Wet coats splash, and vapour burns."),
        GateItem("attended", "Somebody stays with it; extinguisher within reach", "A beam is a fire source."),
    ]
    if machine.source is BeamSource.CO2:
        items.append(GateItem("shield", "Lid or shield closed", "10 600 nm burns the eye's surface and skin, unseen."))
    if substrate.family is Family.GLASS:
        items.append(
            GateItem("warm_glass", "Glass at room warmth, raised off the bed", "Cold glass cracks; flash-back pits it.")
        )
    if substrate.family is Family.ACRYLIC:
        items.append(
            GateItem("pmma", "The sheet is known to be acrylic (PMMA)", "Polycarbonate chars; PVC gives off chlorine.")
        )
    items += [GateItem(f"coat_{n}", text, "") for n, text in enumerate(coat.cautions, 1)]
    return items


def _dry_text(coat: Coat) -> str:
    if coat.carrier is Carrier.NONE:
        return "Piece clean and dry"
    if coat.carrier is Carrier.WATER:
        return "Coat dry right through"
    return f"Coat dry right through; no {coat.carrier.value}, no solvent-wet cloth near the machine"
