"""Tools that put a coat on: how much of it lands on the piece, how long it takes, how even it comes out.

Transfer of spray cans and guns: 25–40 % (industrial practice, from memory); brushes lose what stays in them. All
minutes are our own estimates.
"""

from dataclasses import dataclass
from enum import StrEnum

from keencoat.core.errors import require_known
from keencoat.core.sources import Cited, common_practice, own_estimate


class Risk(StrEnum):
    """How easily something goes wrong."""

    LOW = "low"
    MIDDLE = "middle"
    HIGH = "high"


class Motion(StrEnum):
    """How the hand moves; decides the picture of a step."""

    BRUSH = "brush"
    SPRAY = "spray"
    WIPE = "wipe"
    LAY = "lay"


@dataclass(frozen=True)
class Tool:
    """A tool. `minutes_per_dm2` is for one coat of one piece; `dead_ml` stays in cup and tool."""

    key: str
    label: str
    motion: Motion
    transfer: Cited[float]
    dead_ml: Cited[float]
    setup_min: Cited[float]
    minutes_per_dm2: Cited[float]
    unevenness: Risk
    pattern: str
    looks_like: str
    goes_wrong: tuple[str, ...]


_BRUSH_PATTERN = (
    "Load little, lay it on from the middle to the edges, then long strokes one way; lift off past the edge."
)
_SPRAY_PATTERN = "Start and end each pass off the piece; overlap by half; same distance, same speed."

TOOLS: dict[str, Tool] = {
    t.key: t
    for t in (
        Tool(
            "foam_brush", "foam brush", Motion.BRUSH, own_estimate(0.90), own_estimate(2.0), own_estimate(2.0),
            own_estimate(0.8), Risk.MIDDLE, _BRUSH_PATTERN + " The weight of the brush only.",
            "One even wet shine, no bare lines.",
            ("see-through stripes: too little, or pressed too hard", "ridges: went back over paint that was drying"),
        ),
        Tool(
            "soft_brush", "soft brush", Motion.BRUSH, own_estimate(0.85), own_estimate(2.0), own_estimate(2.0),
            own_estimate(1.0), Risk.MIDDLE, _BRUSH_PATTERN, "Even and milky, no pools at the edge.",
            ("brush lines: mix too thick", "pools at the edge: mix too thin or too much of it"),
        ),
        Tool(
            "foam_roller", "foam roller", Motion.BRUSH, own_estimate(0.85), own_estimate(6.0), own_estimate(4.0),
            own_estimate(0.4), Risk.HIGH, "Roll one way, then across, without pressing.", "Even, no bubbles.",
            ("bubbles and see-through dots",),
        ),
        Tool(
            "gun", "spray gun", Motion.SPRAY, Cited(0.35, "spray-transfer"), own_estimate(10.0), own_estimate(8.0),
            own_estimate(0.25), Risk.LOW, _SPRAY_PATTERN, "Wet just enough to close up, nowhere running.",
            ("dry dust: too far away", "runs: too close or too slow"),
        ),
        Tool(
            "airbrush", "airbrush", Motion.SPRAY, Cited(0.35, "spray-transfer"), own_estimate(3.0), own_estimate(6.0),
            own_estimate(0.8), Risk.LOW, _SPRAY_PATTERN, "Closes up in several thin passes.",
            ("spatter: mix too thick, strain it", "pale edges: pass ended on the piece"),
        ),
        Tool(
            "can", "spray can", Motion.SPRAY, Cited(0.30, "spray-transfer"), own_estimate(4.0), own_estimate(2.0),
            own_estimate(0.3), Risk.LOW, _SPRAY_PATTERN + " Shake it well; small round pieces from 45°, then turn.",
            "Even and matt, no wet shine for longer than a minute.",
            ("runs: too close", "orange skin: too far away", "spits: nozzle not wiped"),
        ),
        Tool(
            "mist", "fine mist bottle", Motion.SPRAY, Cited(0.30, "spray-transfer"), own_estimate(3.0),
            own_estimate(2.0), own_estimate(0.4), Risk.MIDDLE,
            _SPRAY_PATTERN + " Keep it moving and shake between passes: the powder sinks.",
            "Dull white all over, no shine left.",
            ("powder pools and runs: too much alcohol at once", "grey windows: powder sank in the bottle"),
        ),
        Tool(
            "wipe", "fingertip or sponge", Motion.WIPE, own_estimate(0.80), own_estimate(0.5), own_estimate(0.5),
            own_estimate(0.3), Risk.MIDDLE, "A drop, wiped thin in circles.", "A thin wet film, no drops.",
            ("thick patches: too much of it",),
        ),
        Tool(
            "pen", "marker pen", Motion.BRUSH, own_estimate(0.95), own_estimate(0.0), own_estimate(0.5),
            own_estimate(2.0), Risk.HIGH, "Line beside line, half overlapped.", "No lines between strokes.",
            ("dark lines where strokes overlap",),
        ),
        Tool(
            "lay", "by hand", Motion.LAY, Cited(1.0, "common-practice"), own_estimate(0.0), own_estimate(1.0),
            own_estimate(1.0), Risk.LOW, "Lay it down from one edge, press the air out to the other.",
            "Flat on the piece, no bubbles.", ("bubbles: lift and lay again",),
        ),
    )
}  # fmt: skip

ROLLER_REASON = common_practice("A roller leaves tempera see-through, full of tiny bubbles.")


def find_tool(key: str) -> Tool:
    """The tool of that key; raises UnknownNameError that lists the keys."""
    return TOOLS[require_known(key, TOOLS, "tool")]
