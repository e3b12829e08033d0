"""What must be so before the beam goes on: the same list on page and sheet; before a run, with what is known of it."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from keencoat.core.coat import Agent, Carrier, Coat, Drying, never_on
from keencoat.core.errors import BadValueError
from keencoat.core.quantities import BeamSource, Machine
from keencoat.core.safety.eyewear import Emission, Pulsing, least_optical_density
from keencoat.core.safety.pairs import EyewearPair, cover_of
from keencoat.core.sources import Cited, own_estimate
from keencoat.core.substrate import Family, Substrate, hazards_of

DEFERENCE = (
    "Guidance, never clearance: your machine's manual, labels, safety data sheets, local rules and licensed "
    "practice come first."
)


@dataclass(frozen=True)
class GateItem:
    """One condition, with the reason beside it. Before a run: `ways` are answers of which one must be so, `asks` what
    must be told with the tick, `blocked` says why it cannot be so yet, and `until` when it may be."""

    code: str
    text: str
    why: str
    ways: tuple[str, ...] = ()
    asks: str = ""
    blocked: str = ""
    until: datetime | None = None


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
    unseen = machine.source is BeamSource.CO2
    items.append(
        GateItem(
            "enclosed",
            "Lid or shield closed; where a part sticks out, the opening screened",
            "10 600 nm burns the eye's surface and skin, unseen."
            if unseen
            else "A glint off glass or metal is a beam.",
            ways=(
                "Lid or shield closed, nothing sticks out",
                "A part sticks out: the opening is screened, and nobody is in the room without eyewear",
            ),
        )
    )
    if substrate.family is Family.GLASS:
        items.append(
            GateItem(
                "warm_glass",
                "Glass at room warmth, raised off the bed",
                "Cold glass cracks, and cracked glass cuts; flash-back pits it.",
            )
        )
    if substrate.family is Family.ACRYLIC:
        items.append(
            GateItem("pmma", "The sheet is known to be acrylic (PMMA)", "Polycarbonate chars; PVC gives off chlorine.")
        )
    items += [
        GateItem(str(h.code), h.condition, f"{h.what} {h.instead}") for h in hazards_of(substrate, machine.source)
    ]
    never = [c for c in never_on(substrate) if c.agent in _LIQUIDS]
    if never:
        reasons = " ".join(dict.fromkeys(c.reason for c in never))
        items.append(GateItem("never", f"Kept off this piece: {', '.join(c.agent for c in never)}", reasons))
    items += [GateItem(f"coat_{n}", text, "") for n, text in enumerate(coat.cautions, 1)]
    return items


HOLDS: Cited[timedelta] = own_estimate(timedelta(hours=4))
"""How long a gate that was gone through holds: about one sitting."""


def run_gate(
    gate: Sequence[GateItem],
    machine: Machine,
    emission: Emission,
    pairs: Sequence[EyewearPair],
    drying: Drying | None,
    pieces: int,
) -> tuple[GateItem, ...]:
    """The conditions with what the shop and the drying line know: which of its eyewear `pairs` covers this beam, and
    how many of the batch's pieces (the first ones) are dry; None for a coat that nobody puts on."""

    def with_what_is_known(item: GateItem) -> GateItem:
        if item.code == "eyewear":
            return _with_eyewear(item, machine, emission, pairs)
        return _with_drying(item, drying, pieces) if item.code == "dry" and drying else item

    return tuple(with_what_is_known(item) for item in gate)


def require_gone_through(gate: Sequence[GateItem], answers: Mapping[str, str]) -> None:
    """Raise BadValueError for the first condition that is not ticked, cannot be so yet, or lacks what it asks for.

    `answers` are by code: one of its ways, what it asks for, or nothing more than the tick.
    """
    for item in gate:
        field = f"ticks.{item.code}"
        if item.blocked:
            raise BadValueError(f"Not yet: {item.blocked}", field=field, hint="Nothing burns before.")
        if item.code not in answers:
            raise BadValueError(f"Not ticked: {item.text}.", field=field, hint="Look, then tick it.")
        answer = answers[item.code].strip()
        if item.ways and answer not in item.ways:
            raise BadValueError(f"{item.text}: which?", field=field, hint=f"One of: {'; '.join(item.ways)}.")
        if item.asks and not answer:
            raise BadValueError(f"{item.asks} is not told.", field=field, hint="Read it off what you wear.")


def gate_holds(gone_through: datetime, now: datetime) -> bool:
    """Whether a gate that was gone through still counts."""
    return timedelta(0) <= now - gone_through < HOLDS.value


def _with_eyewear(item: GateItem, machine: Machine, emission: Emission, pairs: Sequence[EyewearPair]) -> GateItem:
    cover = cover_of(pairs, machine, emission)
    if cover.pair and cover.band:
        band = f"{cover.band.from_nm:g}–{cover.band.to_nm:g} nm, OD {cover.band.density:g}"
        return replace(
            item,
            text=f"{cover.pair.name} ({band}) or better on everyone in the room",
            why=f"OD {cover.needed} or more is needed; look at the frame: scratched or cracked ones cover nothing. "
            f"{item.why}",
        )
    if cover.needed is None or not pairs:
        none = "" if pairs else " The shop lists no eyewear: add yours under Shop."
        return replace(item, why=f"{item.why}{none}", asks=_WORN)
    reasons = "; ".join(f"{name}: {why}" for name, why in cover.why_not)
    return replace(item, why=f"None of the shop's covers it. {reasons}. {item.why}", asks=_WORN)


_WORN = "What stands on the eyewear that is worn"


def _with_drying(item: GateItem, drying: Drying, pieces: int) -> GateItem:
    batch = [g for g in drying.groups if g.first <= pieces]
    bare = [g for g in batch if not g.all_on]
    ready = sum(min(g.last, pieces) - g.first + 1 for g in batch if g.all_on and g.ready)
    if ready:
        return replace(item, text=f"{item.text}: {ready} of {pieces} pieces should be dry")
    if bare:
        return replace(item, blocked=f"coat {bare[0].coats_on + 1} is not on piece {bare[0].first} yet.")
    due = min((g.next_at for g in batch if g.next_at), default=None)
    return replace(item, blocked="the coat dries.", until=due)


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
