"""Where makers disagree: both schools, with what each costs and risks. Common practice, no source."""

from dataclasses import dataclass

from keencoat.core.quantities import BeamSource
from keencoat.core.substrate import Process, Substrate


@dataclass(frozen=True)
class School:
    """One way of doing it, and the choice that takes it up: coat, tool and number of coats (0: the coat's usual)."""

    label: str
    says: str
    price: str
    risk: str
    coat: str
    tool: str
    coats: int = 0
    wait_min: float = 0.0


@dataclass(frozen=True)
class Disagreement:
    """A question that makers answer differently, for some processes."""

    key: str
    question: str
    processes: tuple[str, ...]
    schools: tuple[School, ...]


DISAGREEMENTS: tuple[Disagreement, ...] = (
    Disagreement(
        "thickness", "Just opaque, or thick and certain?", ("frost",),
        (
            School("thin and even", "Just opaque; the beam's heat reaches the glass at once.",
                   "one coat, half an hour", "a thin spot starves the mark", "tempera_brushed", "foam_brush", 1),
            School("thick and certain", "Two or more coats, so that nothing shines through anywhere.",
                   "twice the paint and an hour more", "too thick shields the glass; no number of passes mends that",
                   "tempera_brushed", "foam_brush", 3),
        ),
    ),
    Disagreement(
        "tool", "Spray, brush or airbrush?", ("frost",),
        (
            School("brush", "No gun to clean, nothing in the air, two crossed coats even it out.",
                   "a minute a piece", "brush lines show in the mark", "tempera_brushed", "foam_brush"),
            School("spray gun", "The most even coat there is, and quick for many pieces.",
                   "two thirds of the paint misses the piece; a gun to clean", "runs, dust, mist in the air",
                   "tempera_sprayed", "gun"),
            School("airbrush", "As even as a gun on small pieces, with less paint lost in the cup.",
                   "slow on anything large", "spatter when the paint is not strained", "tempera_sprayed", "airbrush"),
        ),
    ),
    Disagreement(
        "white", "Titanium dioxide as paint, mist or glue-water?", ("fuse",),
        (
            School("alcohol mist", "Fine and quick: three passes, a quarter of an hour.",
                   "alcohol and a good bottle", "wipes off at a touch; pools when hurried", "tio2_alcohol", "mist"),
            School("glue-water", "Can be handled, stacked and mended.", "hours to overnight to dry",
                   "brush lines; slow in damp air", "tio2_glue", "soft_brush"),
            School("white spray", "A can from the shelf, nothing to mix.", "a day to dry through, solvent to wash off",
                   "differs from can to can in how much titanium dioxide it holds", "white_spray", "can"),
        ),
    ),
    Disagreement(
        "hurry", "White spray: two hours or a day?", ("fuse",),
        (
            School("wait a day", "Through-dry, no solvent left under the beam.", "a day", "none known",
                   "white_spray", "can", 0, 1440),
            School("two to three hours", "Touch-dry has been enough for some, three hours for small pieces.", "nothing",
                   "solvent left inside smokes and spits under the beam", "white_spray", "can", 0, 150),
        ),
    ),
    Disagreement(
        "reveal_wait", "Colour stack: two hours or a day?", ("reveal",),
        (
            School("wait a day", "Hard layers part cleanly.", "a day", "none known", "colour_stack", "can", 0, 1440),
            School("two hours", "Enough in warm dry air, some say.", "nothing",
                   "a soft base burns or smears with the top", "colour_stack", "can", 0, 120),
        ),
    ),
    Disagreement(
        "card", "Paint at all?", ("frost",),
        (
            School("black card instead", "No mixing, no drying, no washing: card under the glass, burned through it.",
                   "a sheet of card", "only flat glass; contact must be perfect; card can catch fire",
                   "black_card", "lay"),
            School("tempera", "Touches the glass everywhere, whatever its shape.", "mixing, drying and washing",
                   "uneven coats show", "tempera_brushed", "foam_brush"),
        ),
    ),
    Disagreement(
        "acrylic_coats", "Acrylic: many thin coats or few?", ("back_engrave",),
        (
            School("many thin coats", "Four to six at 1:3 neither crack nor pop.", "an hour or two of waiting",
                   "see-through if one is skipped", "tempera_thin", "foam_brush", 5),
            School("airbrush", "As thin as the brush can, and more even; no brush lines to show.",
                   "slow on large sheets, a cup to clean", "spatter when the paint is not strained",
                   "tempera_thin", "airbrush", 4),
        ),
    ),
)  # fmt: skip


def disagreements_for(process: Process, substrate: Substrate, source: BeamSource, flat: bool) -> list[Disagreement]:
    """What makers of this process disagree on. Card needs flat glass and a beam that passes it."""
    passes = substrate.passes_light and source is not BeamSource.CO2 and flat
    return [d for d in DISAGREEMENTS if process.key in d.processes and (d.key != "card" or passes)]
