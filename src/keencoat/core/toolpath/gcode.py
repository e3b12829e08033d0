"""G-code of a program: mm, absolute, dynamic laser power (M4), S from 0 to 1000, feeds in mm/min.

Words: RS274/NGC (NIST, Kramer, Proctor & Messina 2000); M4 with S as dynamic power is common practice. Whatever the
controller's mode, the beam is off (M5 S0) wherever the program waits, halts or ends: in any other mode than dynamic
power a standing head would burn on with the last S, just when a hand is at it.
"""

import math
from collections.abc import Iterator
from functools import lru_cache

import numpy as np

from keencoat.core.quantities import Machine
from keencoat.core.toolpath.program import Item, Moves, Program, Streamed, extent_of
from keencoat.core.toolpath.strain import require_runs
from keencoat.core.toolpath.timing import burn_time_s
from keencoat.core.toolpath.words import comments

S_FULL = 1000
BEAM_OFF, BEAM_READY = "M5 S0", "M4 S0"
_USUAL_FOCUS = "coated side up; focus on the coat"
_USUAL_ZERO = "lower left corner of the piece"


def write_gcode(
    program: Program,
    machine: Machine,
    title: str,
    mirrored: bool = False,
    focus: str = _USUAL_FOCUS,
    zero: str = _USUAL_ZERO,
    turns: str = "",
) -> str:
    """The program as a file."""
    return "".join(f"{line}\n" for _, line in gcode_lines(program, machine, title, mirrored, focus, zero, turns))


def gcode_lines(
    program: Program,
    machine: Machine,
    title: str,
    mirrored: bool = False,
    focus: str = _USUAL_FOCUS,
    zero: str = _USUAL_ZERO,
    turns: str = "",
) -> Iterator[tuple[Item | None, str]]:
    """Lines, each with the item that it marks, None where it marks none; first a header that says where zero is, which
    side lies up with the focus where, and how much room the head needs. `turns` names the axis that turns a piece.
    Raises StrainError at once for a program that the machine cannot follow."""
    # A photo's dots are gone through once, when they are written: its lines alone reach as far and take as long.
    lines = program.for_time() if isinstance(program, Streamed) else program
    require_runs(lines, machine, turns)
    left, low, right, top = extent_of(lines)
    seconds = burn_time_s(lines, machine)
    header = [
        f"Keen Coat: {title}",
        f"zero: {zero}, {focus}",
        *(["mirrored: the finished mark is seen through the piece"] if mirrored else []),
        f"head travels x {left:.2f} to {right:.2f}, y {low:.2f} to {top:.2f} mm, keep that room free",
        "needs a controller in laser mode: dynamic power, the beam follows the speed and is off at rest",
        f"S {S_FULL} is full power, S 12.3 is 1.23 %: set the controller's largest S to {S_FULL}",
        f"about {seconds / 60:.1f} min",
        "eyewear on, extraction on, coat dry, stay with it",
    ]
    return _lines(program, [*(line for words in header for line in comments(words)), "G21", "G90", "G94", BEAM_READY])


def _lines(program: Program, header: list[str]) -> Iterator[tuple[Item | None, str]]:
    yield from ((None, line) for line in header)
    height_mm = 0.0
    for task in program:
        s = task.setting
        pauses = []
        if task.focus_mm != height_mm:
            height_mm = task.focus_mm
            pauses += [*comments(f"set the head {height_mm:+g} mm from its usual height, then go on"), "M0"]
        if task.wait_s:
            pauses.append(f"G4 P{_figure(task.wait_s)}")
        if pauses:
            yield from ((None, line) for line in (BEAM_OFF, *pauses, BEAM_READY))
        words = f"{task.item}: {s.power_pct:g} % {s.speed_mm_s:g} mm/s {s.interval_mm:g} mm {s.passes} pass"
        yield from ((task.item, line) for line in comments(words))
        for line in _move_lines(task.moves):
            yield task.item, line
    yield from ((None, line) for line in (BEAM_OFF, "G0 X0 Y0 S0", "M2"))


def _move_lines(moves: Moves) -> Iterator[str]:
    """A line a move. The feed and the height across stand again where they change, and after each rapid move: a photo
    has millions of lines, and whoever starts in the middle starts at a row."""
    figures = (moves.x_mm, moves.y_mm, 60 * moves.speed_mm_s, moves.power_pct / 100 * S_FULL)
    # Rounded together, and never a negative zero: dots of all rows stand at the same few thousand places.
    columns = [*((np.round(column, 3) + 0.0).tolist() for column in figures), moves.rapid.tolist()]
    last_y, last_feed = math.nan, math.nan
    for x, y, feed, power, rapid in zip(*columns, strict=True):
        if rapid:
            yield f"G0 X{_figure(x)} Y{_figure(y)} S0"
            last_y, last_feed = y, math.nan
        elif y == last_y and feed == last_feed:
            yield f"G1 X{_figure(x)} S{_figure(power)}"
        else:
            yield f"G1 X{_figure(x)} Y{_figure(y)} F{_figure(feed)} S{_figure(power)}"
            last_y, last_feed = y, feed


@lru_cache(maxsize=65_536)
def _figure(value: float) -> str:
    """At most three decimals; never an empty one."""
    return f"{value:.3f}".rstrip("0").rstrip(".")
