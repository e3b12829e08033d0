"""What must be so before the beam goes on: the same list on page and sheet."""

import math
from dataclasses import dataclass

from keencoat.core.coat import Agent, Carrier, Coat, never_on
from keencoat.core.quantities import BeamSource, Machine
from keencoat.core.safety.eyewear import Emission, Pulsing, least_optical_density
from keencoat.core.substrate import Family, Substrate

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


_LIQUIDS = {a for a in Agent if a not in (Agent.STEEL_WOOL, Agent.ADHESIVE)}


def safety_gate(machine: Machine, emission: Emission, substrate: Substrate, coat: Coat) -> list[GateItem]:
    """The conditions for burning this substrate and coat on this machine."""
    items = [
        _eyewear_item(machine, emission),
        GateItem(
            "laser_mode",
            "Controller in laser mode",
            "In any other the beam stays on where the head turns round, and whenever the program stands.",
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
    never = [c for c in never_on(substrate) if c.agent in _LIQUIDS]
    if never:
        reasons = " ".join(dict.fromkeys(c.reason for c in never))
        items.append(GateItem("never", f"Kept off this piece: {', '.join(c.agent for c in never)}", reasons))
    items += [GateItem(f"coat_{n}", text, "") for n, text in enumerate(coat.cautions, 1)]
    return items


def _eyewear_item(machine: Machine, emission: Emission) -> GateItem:
    nanometres = f"{machine.source.wavelength_nm:,.0f}".replace(",", " ")
    needed = least_optical_density(machine.source, machine.rated_w, emission)
    if needed is None:
        return GateItem(
            "eyewear",
            f"Eyewear for {nanometres} nm as the machine's manual states, on everyone in the room",
            "No figure from us: nobody said whether this beam is pulsed, and pulses need more than their average power "
            "tells. Enter it under Shop, Machines.",
        )
    pulses = ", rated for pulses" if emission.pulsing is Pulsing.PULSED else ""
    return GateItem(
        "eyewear",
        f"Eyewear for {nanometres} nm{pulses}, OD {math.ceil(needed)} or more, on everyone in the room",
        f"{machine.rated_w:g} W straight into an eye for ten seconds; from exposure limits, as guidance (from memory).",
    )


def _dry_text(coat: Coat) -> str:
    if coat.carrier is Carrier.NONE:
        return "Piece clean and dry"
    if coat.carrier is Carrier.WATER:
        return "Coat dry right through"
    return f"Coat dry right through; no {coat.carrier.value}, no solvent-wet cloth near the machine"
