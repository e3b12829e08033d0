"""Which coat: those that work for a piece, side by side with what each asks; and what won't work, with the reason."""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal

from keencoat.core.coat.agents import Agent
from keencoat.core.coat.amounts import mix_for
from keencoat.core.coat.compatibility import coats_that_help
from keencoat.core.coat.drying import Correction, Heat, drying_factor, span_for
from keencoat.core.coat.hands import Load, plan_hands
from keencoat.core.coat.incompatible import CARRIER_CLASHES, agents_in, coat_clash, first_clash, refused_finishes
from keencoat.core.coat.ingredients import USUAL_PRICES
from keencoat.core.coat.recipes import Carrier, Coat
from keencoat.core.coat.room import Air
from keencoat.core.coat.tools import ROLLER_REASON, TOOLS, Motion, Risk, Tool
from keencoat.core.coat.vapour import coat_cautions
from keencoat.core.costing import Price, cost_of
from keencoat.core.quantities import BeamSource
from keencoat.core.substrate import Family, Process, Substrate, marks_bare

_MIX_MINUTES = 4.0
"""Measuring out and stirring a mix of several parts: own estimate."""

_ONE_TIME = Correction(1.0, 1.0, 1.0, 0)


@dataclass(frozen=True)
class Need:
    """What is to be coated, and in which air. `pieces` counts the spares too."""

    substrate: Substrate
    process: Process
    source: BeamSource
    coated_cm2: float
    pieces: int
    air: Air
    flat: bool = True


@dataclass(frozen=True)
class Offer:
    """A coat that works, with what it asks: minutes of hands, hours until the whole batch may be burned, money."""

    coat: Coat
    tool: Tool
    coats: int
    absorbs: str
    hands_min: float
    ready_h: float
    cost: Decimal
    unevenness: Risk
    hazards: tuple[str, ...]


@dataclass(frozen=True)
class Rejection:
    """What makers try and what won't work here, with the reason."""

    label: str
    reason: str
    source: str


def hands_min_per_coat(tool: Tool, coated_cm2: float) -> float:
    """Minutes of hands for one coat on one piece; no piece takes less than twelve seconds."""
    return max(0.2, tool.minutes_per_dm2.value * coated_cm2 / 100)


def absorbs_words(coat: Coat, source: BeamSource) -> str:
    """Why the layer takes this beam, or does not."""
    if source not in coat.absorbs:
        return f"Does not absorb {source.wavelength_nm:.0f} nm. {coat.why}"
    if coat.colour == "clear":
        return coat.why
    if coat.colour == "white" and source is not BeamSource.CO2:
        return f"White to the eye, yet its titanium dioxide takes enough of {source.wavelength_nm:.0f} nm to fuse."
    if source is BeamSource.CO2:
        return "Nearly all paint takes 10 600 nm within its own thickness."
    return f"Black takes {source.wavelength_nm:.0f} nm like any other light."


def offer_of(
    coat: Coat, tool: Tool, coats: int, need: Need, prices: Mapping[str, Price], film_um: float | None = None
) -> Offer:
    """What a coat with a tool asks for this batch."""
    hands = hands_min_per_coat(tool, need.coated_cm2)
    factor = drying_factor(coat.carrier, need.air)
    film = film_um or coat.dry_um_per_coat.value
    between, last = (span_for(coat, final, film, _ONE_TIME).plan * factor for final in (False, True))
    mixing = _MIX_MINUTES if len(coat.parts) > 1 else 0.0
    put_on = coats if coat.is_put_on else 0
    plan = plan_hands([Load("batch", 1, need.pieces, 0, put_on, 0, hands, between, last)])
    mix = mix_for(coat, tool, need.coated_cm2, need.pieces, coats, film_um, prices)
    wet_ml = mix.total_ml if mix else 0.0
    return Offer(
        coat=coat,
        tool=tool,
        coats=coats,
        absorbs=absorbs_words(coat, need.source),
        hands_min=(tool.setup_min.value + mixing + hands * need.pieces * coats) if coat.is_put_on else 0.0,
        ready_h=(plan.done_min + tool.setup_min.value + mixing) / 60 if coat.is_put_on else 0.0,
        cost=mix.cost if mix else _laid_cost(coat, need, prices),
        unevenness=tool.unevenness,
        hazards=tuple(
            dict.fromkeys(
                c.code for c in coat_cautions(coat, tool, need.substrate, wet_ml) if not c.code.startswith("own")
            )
        ),
    )


def _laid_cost(coat: Coat, need: Need, prices: Mapping[str, Price]) -> Decimal:
    """Sheets and cards are bought by volume of layer: area × thickness."""
    if not coat.parts:
        return Decimal(0)
    volume_ml = need.coated_cm2 * coat.dry_um_per_coat.value * 1e-4 * need.pieces
    return cost_of(coat.parts[0].ingredient, volume_ml, prices, USUAL_PRICES)


def offers_for(need: Need, shelf: Mapping[str, Coat], prices: Mapping[str, Price]) -> list[Offer]:
    """The coats of the shelf that work, the process's usual one first, each with its usual tool and coats."""
    return [
        offer_of(coat, TOOLS[coat.tools[0]], round(coat.coats.value.plan), need, prices)
        for coat in coats_that_help(need.process, need.source, shelf)
        if not _unfit(coat, need)
    ]


def _unfit(coat: Coat, need: Need) -> str:
    """Why this piece, of all, cannot take a coat that its process takes; empty if it can."""
    if clash := coat_clash(need.substrate, coat):
        return clash.reason
    if coat.key == "black_card" and not need.flat:
        return "Card must touch the glass all over, which only flat glass lets it."
    return ""


def rejections_for(need: Need, shelf: Mapping[str, Coat]) -> list[Rejection]:
    """What won't work on this piece under this beam, with the reason: what makers are tempted to try."""
    out = []
    substrate, source, process = need.substrate, need.source, need.process
    if not marks_bare(substrate, source) and substrate.family is not Family.METAL:
        way = "goes through it" if substrate.passes_light else "bounces off it"
        out.append(Rejection(f"bare {substrate.label}", f"The {source.label} beam {way}.", "refractiveindex"))
    for coat in shelf.values():
        if coat.does_not_work:
            out.append(Rejection(coat.label, coat.does_not_work, "common-practice"))
        elif source not in coat.absorbs:
            out.append(Rejection(coat.label, absorbs_words(coat, source), "common-practice"))
    offered = coats_that_help(process, source, shelf)
    if any(c.key.startswith("tempera") for c in offered):
        out.append(Rejection("foam roller with tempera", ROLLER_REASON.value, ROLLER_REASON.source))
    if any(c.carrier is Carrier.SOLVENT for c in offered):
        out.append(
            Rejection("glossy paint", "Gloss throws part of the beam back: it marks less than matt.", "common-practice")
        )
    out += [Rejection(clash.agent, clash.reason, clash.source) for clash in refused_finishes(process, substrate)]
    unfit: dict[str, list[str]] = {}
    for coat in shelf.values():
        tempting = process.key in coat.serves or coat.key in process.coats or first_clash(substrate, agents_in(coat))
        if tempting and source in coat.absorbs and (reason := _unfit(coat, need)):
            unfit.setdefault(reason, []).append(coat.label)
    return out + [Rejection("; ".join(labels), reason, "common-practice") for reason, labels in unfit.items()]


def refused_tool(coat: Coat, tool: Tool) -> str:
    """Why this tool does not go with this coat; empty if it does."""
    if tool.key == "foam_roller" and any(p.ingredient == "tempera" for p in coat.parts):
        return ROLLER_REASON.value
    if tool.key not in coat.tools:
        usual = ", ".join(TOOLS[key].label for key in coat.tools)
        return f"A {tool.label} does not go with {coat.label}: take {usual}."
    return ""


def may_be_heated(coat: Coat, tool: Tool) -> list[Heat]:
    """Which heat may help this coat to dry: none near alcohol or solvent vapour, none for what is laid on."""
    waits = coat.carrier is Carrier.NONE or tool.motion is Motion.LAY
    return [Heat.NONE] if waits or (coat.carrier, Agent.WARMTH) in CARRIER_CLASHES else list(Heat)
