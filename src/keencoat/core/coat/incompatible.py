"""What must never meet what: one table of pieces against cleaners, paints, removers and baths.

Choosing a coat, the run sheet and the gate all read this table. An agent is whatever touches the piece besides the
beam. Reasons are common practice and makers' data sheets, from memory: labels and safety data sheets come first.
"""

from collections.abc import Iterable
from dataclasses import dataclass

from keencoat.core.coat.agents import Agent, agents_named
from keencoat.core.coat.ingredients import agents_of_part
from keencoat.core.coat.recipes import Carrier, Coat
from keencoat.core.substrate import Family, Process, Substrate


@dataclass(frozen=True)
class Clash:
    """An agent that must not touch a family of substrates (or one substrate, by key), and why."""

    on: str
    agent: Agent
    reason: str
    source: str = "common-practice"


_CRAZES = "It crazes or clouds acrylic, at once or months later where the sheet is under stress."
_DISSOLVES = "It dissolves acrylic."
_LIFTS = "It dissolves or lifts the paint that must stay."
_RUNS_AWAY = "With aluminium it heats up by itself, boils over and gives off hydrogen."

CLASHES: tuple[Clash, ...] = (
    Clash(Family.ACRYLIC, Agent.ALCOHOL, _CRAZES),
    Clash(Family.ACRYLIC, Agent.GLASS_CLEANER, _CRAZES),
    Clash(Family.ACRYLIC, Agent.ACETONE, _DISSOLVES),
    Clash(Family.ACRYLIC, Agent.THINNER, _DISSOLVES),
    Clash(Family.ACRYLIC, Agent.SOLVENT_PAINT, "Its solvent crazes acrylic, and only thinner may take it off again."),
    Clash(Family.ACRYLIC, Agent.SOLVENT_CLEAR, _CRAZES),
    Clash(Family.ACRYLIC, Agent.STEEL_WOOL, "It scratches acrylic."),
    Clash(Family.ACRYLIC, Agent.ADHESIVE, "It may never come off acrylic again."),
    Clash(Family.GLASS, Agent.STEEL_WOOL, "It scratches glass; cracks start at scratches."),
    Clash("painted_tile", Agent.ALCOHOL, "It can soften the colour that must stay."),
    Clash("painted_tile", Agent.ACETONE, _LIFTS),
    Clash("painted_tile", Agent.THINNER, _LIFTS),
    Clash("painted_tile", Agent.SOLVENT_CLEAR, "It can dissolve the image. Take a water-based one."),
    Clash("powder_coated_steel", Agent.ACETONE, _LIFTS),
    Clash("powder_coated_steel", Agent.THINNER, _LIFTS),
    Clash("powder_coated_steel", Agent.STEEL_WOOL, "It scratches the coat that is to stay."),
    Clash("aluminium", Agent.FERRIC_CHLORIDE, _RUNS_AWAY),
    Clash("aluminium", Agent.HYDROCHLORIC_ACID, _RUNS_AWAY),
    Clash("aluminium", Agent.COPPER_SULPHATE, _RUNS_AWAY),
)


_IGNITES = "Its vapour catches fire at a hot wire."
CARRIER_CLASHES: dict[tuple[Carrier, Agent], str] = {
    (Carrier.ALCOHOL, Agent.WARMTH): _IGNITES,
    (Carrier.SOLVENT, Agent.WARMTH): _IGNITES,
}
"""What must not meet a coat that is still wet with something, and why: common practice, no source."""


@dataclass(frozen=True)
class Cleaning:
    """How a piece is cleaned before it is coated, and with what."""

    text: str
    agents: tuple[Agent, ...]


_WASH = "Wash with lukewarm water and mild soap, rinse, dab dry; hold it by the edges."
_CLEANING: dict[str, Cleaning] = {
    Family.GLASS: Cleaning(
        "Glass cleaner, then wipe with alcohol, let dry; hold it by the edges.", (Agent.GLASS_CLEANER, Agent.ALCOHOL)
    ),
    Family.ACRYLIC: Cleaning(
        f"Peel the film where the coat goes. {_WASH} Nothing else: other cleaners craze or cloud it.", (Agent.SOAP,)
    ),
    "white_glazed_tile": Cleaning("Degrease, wipe with alcohol, let dry; hold it by the edges.", (Agent.ALCOHOL,)),
    "painted_tile": Cleaning(f"{_WASH} Nothing stronger on colour that is to stay.", (Agent.SOAP,)),
    "powder_coated_steel": Cleaning(_WASH, (Agent.SOAP,)),
    "brass": Cleaning(
        "Fine steel wool, then wipe with alcohol, let dry; gloves on.", (Agent.STEEL_WOOL, Agent.ALCOHOL)
    ),
    "mild_steel": Cleaning("Degrease with acetone outdoors, let dry; gloves on.", (Agent.ACETONE,)),
    "aluminium": Cleaning("Degrease, wipe with alcohol, let dry; gloves on.", (Agent.ALCOHOL,)),
}


@dataclass(frozen=True)
class Finish:
    """What is done once the mark is inspected: with which agent (None: with none that a piece must be kept from), how
    many minutes hands and drying take, from and to, and what to mind."""

    label: str
    agent: Agent | None
    text: str
    minutes: tuple[float, float]
    caution: str = ""

    @property
    def name(self) -> str:
        """What a tick calls it by."""
        return f"{self.label} {self.agent or ''}".strip()


_BATH = "bath, after trying it on an offcut: gloves, goggles, open air; acid into water, never the other way round"
_ACID = (
    "Gloves, goggles, respirator, open air; never water into acid. Spent bath and rinse water are hazardous waste: "
    "hand them in by local rules, never down the drain."
)
_AIRED = "Outdoors or under extraction, away from sparks."
_CLEAR = "thin, once the colours are dry right through; dry overnight"
_PADS = Finish("Pads", None, "felt or cork under what will stand on a table; no coat where food touches it", (1, 3))
_FINISHES: dict[str, tuple[Finish, ...]] = {
    "frost": (
        Finish(
            "Loosened glass",
            None,
            "brush it out under running water where a deeper mark is wanted, then wash once more",
            (2, 5),
            "The dust is sharp: wet, with gloves and goggles; never blow or wipe it off dry.",
        ),
        _PADS,
    ),
    "fuse": (Finish("No clear coat", None, "the mark is part of the glaze, nothing protects it better", (0, 0)), _PADS),
    "reveal": (
        Finish("Clear coat", Agent.WATER_CLEAR, _CLEAR, (480, 1440)),
        Finish("Clear coat", Agent.SOLVENT_CLEAR, _CLEAR, (480, 1440), _AIRED),
        _PADS,
    ),
    "back_engrave": (
        Finish(
            "Edge light", None, "stand its edge on a strip of light: the mark glows, and so does every speck", (5, 15)
        ),
    ),
    "ablate": (Finish("Fill", Agent.FILL, "overnight, then peel the masking film", (480, 1440), _AIRED),),
    "resist": (
        Finish("Etch", Agent.FERRIC_CHLORIDE, _BATH, (20, 60), _ACID),
        Finish("Etch", Agent.HYDROCHLORIC_ACID, _BATH, (20, 60), _ACID),
        Finish("Etch", Agent.COPPER_SULPHATE, _BATH, (20, 60), _ACID),
    ),
}
"""Common practice, no source; times with drying."""
_BATHS_TAKEN = {
    "brass": {Agent.FERRIC_CHLORIDE},
    "mild_steel": {Agent.FERRIC_CHLORIDE, Agent.COPPER_SULPHATE},
}
"""Which bath bites which metal at all: common practice, no source."""

_CARRIED = {Carrier.SOLVENT: [Agent.SOLVENT_PAINT], Carrier.ALCOHOL: [Agent.ALCOHOL]}


def clash_of(substrate: Substrate, agent: Agent) -> Clash | None:
    """Why this agent must not touch this piece; None if nothing speaks against it."""
    return next((c for c in CLASHES if c.agent is agent and c.on in (substrate.family, substrate.key)), None)


def may_meet(agent: Agent, substrate: Substrate, coat: Coat | None = None) -> bool:
    """Whether an agent may touch this piece, and this coat where it lies on it still."""
    return clash_of(substrate, agent) is None and (coat is None or (coat.carrier, agent) not in CARRIER_CLASHES)


def never_on(substrate: Substrate) -> list[Clash]:
    """Everything that must not touch this piece."""
    return [c for c in CLASHES if c.on in (substrate.family, substrate.key)]


def agents_in(coat: Coat) -> list[Agent]:
    """What a coat itself brings to the piece: what is in its parts, by what they are or what a maker calls them, and
    what is said to dry out of it."""
    carried = _CARRIED.get(coat.carrier, [])
    return [*dict.fromkeys([*carried, *(agent for part in coat.parts for agent in agents_of_part(part.ingredient))])]


def agents_of(coat: Coat) -> list[Agent]:
    """What a coat brings to the piece, and what takes it off again."""
    return agents_in(coat) + agents_named(coat.removal)


def first_clash(substrate: Substrate, agents: Iterable[Agent]) -> Clash | None:
    """The first clash among several agents; None if all may touch the piece."""
    return next((clash for agent in agents if (clash := clash_of(substrate, agent))), None)


def coat_clash(substrate: Substrate, coat: Coat) -> Clash | None:
    """Why a coat must not go on this piece: what is in it, or what must come after it. None if it may."""
    return first_clash(substrate, agents_of(coat)) if coat.is_put_on else None


def cleaning_of(substrate: Substrate) -> Cleaning:
    """How this piece is cleaned before it is coated."""
    return _CLEANING.get(substrate.key) or _CLEANING[substrate.family]


def finishes_of(process: Process, substrate: Substrate) -> list[Finish]:
    """What may come after this process on this piece; what clashes with it is left out."""
    baths = _BATHS_TAKEN.get(substrate.key, set())
    return [
        finish
        for finish in _FINISHES.get(process.key, ())
        if (finish.agent is None or may_meet(finish.agent, substrate))
        and (process.key != "resist" or finish.agent in baths)
    ]


def refused_finishes(process: Process, substrate: Substrate) -> list[Clash]:
    """What makers would reach for after this process, and must not on this piece."""
    agents = (f.agent for f in _FINISHES.get(process.key, ()) if f.agent)
    return [c for agent in agents if (c := clash_of(substrate, agent))]
