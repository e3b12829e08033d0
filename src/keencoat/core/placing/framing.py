"""Framing: a way round art and piece that marks nothing, so that eyes can see where the mark will land.

Two rounds. The first goes round the art from its lower left and over its middle lines, the second round the piece's own
box from its upper left, the other way: where a side of the piece runs away from the pointer, the piece lies askew.
Beams are off throughout (M5): only the pointer shows.
"""

from dataclasses import dataclass

import numpy as np
from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry

from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Finding, Severity
from keencoat.core.geometry import Transform
from keencoat.core.quantities import Machine
from keencoat.core.toolpath import BEAM_OFF, comments

FRAME_MM_S = 40.0
_SLACK_MM = 0.05


@dataclass(frozen=True, eq=False)
class Frame:
    """The way that is framed, on the bed, mm, shape (n, 2): from its start to its end; what there is to say."""

    way: np.ndarray
    findings: tuple[Finding, ...]


def frame_of(art: BaseGeometry, piece: Polygon, coated: Polygon, to_bed: Transform, machine: Machine) -> Frame:
    """Frame art on a piece, both in the piece's own coordinates, as it lies on the bed."""
    left, low, right, top = art.bounds
    first = [(left, low), (right, low), (right, top), (left, top), (left, low)]
    across, up = (left + right) / 2, (low + top) / 2
    middle = [(across, low), (across, top), (right, top), (right, up), (left, up)]
    far_left, far_low, far_right, far_top = piece.bounds
    second = [(far_left, far_top), (far_left, far_low), (far_right, far_low), (far_right, far_top), (far_left, far_top)]
    flat = np.array([*first, *middle, *second], dtype=float)
    way = np.column_stack(to_bed.at(flat[:, 0], flat[:, 1]))
    return Frame(way, tuple(_findings(art, piece, coated, way, machine)))


def _findings(art: BaseGeometry, piece: Polygon, coated: Polygon, way: np.ndarray, machine: Machine) -> list[Finding]:
    found = []
    bed = box(0, 0, machine.bed_x_mm, machine.bed_y_mm)
    reaches = box(*way.min(axis=0), *way.max(axis=0))
    if not bed.buffer(_SLACK_MM).contains(reaches):
        beyond = max(-way.min(), *(way.max(axis=0) - (machine.bed_x_mm, machine.bed_y_mm)))
        found.append(
            Finding(
                FindingCode.FRAME_OFF_BED,
                Severity.STOP,
                f"The frame would leave the bed by {beyond:.1f} mm.",
                fix="Move the piece inwards, or turn it a quarter.",
                figures={"beyond_mm": float(beyond)},
            )
        )
    if not coated.buffer(_SLACK_MM).contains(art):
        what = "the piece" if not piece.buffer(_SLACK_MM).contains(art) else "the coat"
        share = float(art.difference(coated).area / art.area)
        found.append(
            Finding(
                FindingCode.FRAME_OFF_COAT,
                Severity.WARN,
                f"The art would reach past {what}.",
                fix="Make it smaller, or move it; look where the pointer leaves the coat.",
                figures={"share": share},
            )
        )
    return found


def frame_gcode(frame: Frame, machine: Machine, title: str) -> str:
    """The frame as G-code: the beam stays off, the way is gone twice."""
    feed = 60 * min(FRAME_MM_S, machine.max_speed_mm_s)
    lines = [
        *comments(f"Keen Coat: {title}, framing"),
        *comments("the beam stays off. Watch the pointer: it keeps to the coat, and no side runs away"),
        "G21",
        "G90",
        "G94",
        BEAM_OFF,
    ]
    for _ in range(2):
        x, y = frame.way[0]
        lines.append(f"G0 X{x:.3f} Y{y:.3f}")
        lines += [f"G1 X{x:.3f} Y{y:.3f} F{feed:.0f}" for x, y in frame.way[1:]]
    return "\n".join([*lines, BEAM_OFF, "M2"]) + "\n"
