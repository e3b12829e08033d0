"""What the laser and the maker take of a placing: a frame, artwork through a turning device, a sheet to wrap."""

import math
from collections.abc import Iterator
from xml.etree.ElementTree import SubElement, indent, tostring

import numpy as np

from keencoat.core.errors import BadValueError, NotAllowedError
from keencoat.core.geometry import offset, svg_page
from keencoat.core.placing import (
    ArtOnWall,
    StandsInFor,
    Strip,
    StripProgram,
    Turned,
    TurnedProgram,
    frame_gcode,
)
from keencoat.core.toolpath import Placed, gcode_lines, overscan_mm, require_on_bed
from keencoat.jobs.artwork.services.files import Taken, in_blocks
from keencoat.jobs.artwork.services.making import made_of
from keencoat.jobs.placing.models import Placing
from keencoat.jobs.placing.services.flat_place import FlatPlace, Lying
from keencoat.jobs.placing.services.placing import place_of
from keencoat.jobs.placing.services.round_place import RoundPlace

_STEPS = 33


def frame_file(placing: Placing) -> str:
    """The frame round art and piece, as G-code. Raises NotAllowedError where nothing says how the piece lies."""
    return frame_gcode(_lying(placing).frame, placing.job.machine.to_core(), placing.job.name)


def _lying(placing: Placing) -> Lying:
    place = place_of(placing)
    if not isinstance(place, FlatPlace) or place.lying is None:
        raise NotAllowedError(
            "Nothing says yet how this piece lies on the bed.", hint="Touch its rim or corners first."
        )
    return place.lying


def placed_program(placing: Placing, taken: Taken) -> Placed:
    """An artwork where its piece lies on the bed, turned as it is. Raises as `frame_file`, and BadValueError where the
    head would leave the bed."""
    to_bed, base = _lying(placing).to_bed, taken.base
    program = base.program(made_of(taken.artwork, base, taken.piece), False)
    width, height = base.size_mm
    placed = Placed(program, offset(-width / 2, -height / 2).then(to_bed))
    require_on_bed(placed, base.machine, "points")
    return placed


def placed_gcode(placing: Placing, taken: Taken) -> Iterator[str]:
    """An artwork where its piece lies on the bed, as G-code. Raises as `placed_program`."""
    base, placed = taken.base, placed_program(placing, taken)
    zero = "that of the machine's bed; the piece lies where it was touched"
    return in_blocks(gcode_lines(placed, base.machine, taken.title, base.mirrored, base.focus, zero))


def turned_program(placing: Placing, taken: Taken) -> TurnedProgram:
    """An artwork through the turning device. Raises NotAllowedError without one."""
    place = place_of(placing)
    if not isinstance(place, RoundPlace) or placing.device is None:
        raise NotAllowedError("Nothing turns this piece.", hint="Say in Placing which turning device carries it.")
    device, base = placing.device.to_core(), taken.base
    across = device.stands_in_for is StandsInFor.Y
    program = base.program(made_of(taken.artwork, base, taken.piece), across)
    if not program.lines:
        raise BadValueError("Nothing of it is burned.", field="artwork_id", hint="Change its size or its place.")
    art = ArtOnWall(place.taper, place.art.way, place.taper.slant_mm / 2, place.art.turn_deg)
    return TurnedProgram(program, Turned(art, device, place.widest_mm, base.size_mm, across))


def turned_gcode(placing: Placing, taken: Taken) -> Iterator[str]:
    """An artwork through the turning device, as G-code. Raises as `turned_program`."""
    base, turned = taken.base, turned_program(placing, taken)
    axis = turned.turned.device.stands_in_for.upper()
    zero = f"the wall's lower end along it, {axis} 0 where the mark's middle lies uppermost"
    title = f"{taken.title}, turned on {placing.device and placing.device.name}"
    return in_blocks(gcode_lines(turned, base.machine, title, base.mirrored, base.focus, zero, axis.lower()))


def strip_gcode(placing: Placing, taken: Taken, number: int) -> Iterator[str]:
    """One strip (from 1) of an artwork under a fixed head, as G-code. Raises NotAllowedError where a device turns the
    piece or nothing is locked, BadValueError where there is no such strip."""
    place, base = place_of(placing), taken.base
    if not isinstance(place, RoundPlace) or place.under_head is None:
        raise NotAllowedError("No fixed head marks this piece.", hint="Say in Placing that nothing turns it.")
    turns = place.under_head.turns
    if turns is None or not 1 <= number <= len(turns.at_deg):
        count = len(turns.at_deg) if turns else 0
        raise BadValueError(
            f"There is no strip {number}.", field="number", hint=f"There are {count}: lock a surer setting for any."
        )
    across, degrees = taken.artwork.asked().across, turns.at_deg[number - 1]
    radius = place.taper.diameter_mm(place.art.along_mm) / 2
    strip = Strip(
        radius,
        math.radians(degrees) * radius,
        turns.strip_mm,
        base.size_mm,
        across,
        overscan_mm(base.setting.speed_mm_s, base.machine.accel_mm_s2),
    )
    program = StripProgram(base.program(made_of(taken.artwork, base, taken.piece), across), strip)
    if not any(moves.power_pct.any() for moves in (task.moves for task in program.for_time())):
        raise BadValueError(f"Nothing lies in strip {number}.", field="number", hint="Take another one.")
    title = f"{taken.title}, strip {number} of {len(turns.at_deg)}, the piece turned to {degrees:.1f} degrees"
    zero = f"{'Y' if across else 'X'} 0 on the ridge, the wall's {'upper' if across else 'lower'} end along it"
    return in_blocks(gcode_lines(program, base.machine, title, base.mirrored, base.focus, zero))


def wrap_svg(placing: Placing) -> str:
    """The wall laid flat with the mark's outline on it, true to scale: a sheet to cut out and wrap round the piece.
    Raises NotAllowedError for a flat piece."""
    place = place_of(placing)
    if not isinstance(place, RoundPlace):
        raise NotAllowedError("A flat piece needs no sheet to wrap.", hint="Take the frame instead.")
    wall, mark = wall_ring(place), mark_ring(place)
    left, low = wall.min(axis=0)
    width, height = wall.max(axis=0) - (left, low)
    svg = svg_page(float(width), float(height), f"{placing.job.name}, to wrap round the wall", False)
    rings = [(wall, {"stroke": "#000"}), (mark, {"stroke": "#000", "stroke-dasharray": "2 1"})]
    rings += [(line, {"stroke": "#1a4f9c", "stroke-dasharray": "0.4 1.2"}) for line in strip_lines(place)]
    for ring, look in rings:
        points = " ".join(f"{x - left:.3f},{height - (y - low):.3f}" for x, y in ring)
        SubElement(svg, "path", {"d": f"M {points} Z", "fill": "none", "stroke-width": "0.2", **look})
    indent(svg, "")
    return tostring(svg, "unicode") + "\n"


def strip_lines(place: RoundPlace) -> list[np.ndarray]:
    """The middles of the strips under a fixed head on the wall laid flat, each from the wall's foot to its top; none
    where the mark needs no more than one; shape (2, 2) each, mm."""
    turns = place.under_head.turns if place.under_head else None
    if turns is None or len(turns.at_deg) < 2:
        return []
    ends = np.array([0.0, place.taper.slant_mm])
    return [
        np.column_stack(place.art.laid_flat(ends, np.full(2, place.art.turn_deg + degrees))) for degrees in turns.at_deg
    ]


def wall_ring(place: RoundPlace) -> np.ndarray:
    """The whole wall laid flat about the mark's middle, opened at the back; shape (n, 2), mm."""
    turn = np.linspace(-180, 180, 4 * _STEPS) + place.art.turn_deg
    ends = np.zeros_like(turn), np.full_like(turn, place.taper.slant_mm)
    low, top = (np.column_stack(place.art.laid_flat(along, turn)) for along in ends)
    return np.concatenate([low, top[::-1]])


def mark_ring(place: RoundPlace) -> np.ndarray:
    """The mark's outline on the wall laid flat, as the way of the art bends it; shape (n, 2), mm."""
    half_wide, half_high = place.mark_mm[0] / 2, place.mark_mm[1] / 2
    side = np.linspace(-1, 1, _STEPS)
    x = np.concatenate([side * half_wide, np.full(_STEPS, half_wide), -side * half_wide, np.full(_STEPS, -half_wide)])
    y = np.concatenate([np.full(_STEPS, -half_high), side * half_high, np.full(_STEPS, half_high), -side * half_high])
    return np.column_stack(place.art.laid_flat(*place.art.onto(x, y)))
