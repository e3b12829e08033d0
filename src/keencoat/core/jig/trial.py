"""What is cut before a jig: three pockets of different play, to see which one the pieces like."""

from dataclasses import replace

from shapely.affinity import translate

from keencoat.core.jig.cut_sheet import CutSheet, Stroke
from keencoat.core.jig.drawing import NUMBER_MM, under
from keencoat.core.jig.layout import JigSpec, edge_of, inside_of
from keencoat.core.piece import FlatPiece

_STEP_MM = 0.2
_MARGIN_MM = 8.0


def trial_plays(spec: JigSpec) -> tuple[float, float, float]:
    """The plays that are tried: a step less (never below the kerf), as asked, a step more.

    >>> trial_plays(JigSpec((300, 200), play_mm=0.4, kerf_mm=0.15))
    (0.2, 0.4, 0.6)
    """
    plays = (spec.play_mm - _STEP_MM, spec.play_mm, spec.play_mm + _STEP_MM)
    low, as_asked, more = (round(max(p, spec.kerf_mm), 2) for p in plays)
    return low, as_asked, more


def trial_sheet(piece: FlatPiece, spec: JigSpec) -> CutSheet:
    """Three pockets side by side, each with its play in mm beneath it."""
    edges = [edge_of(piece, replace(spec, play_mm=play)) for play in trial_plays(spec)]
    left, cuts, marks = _MARGIN_MM, [], list[Stroke]()
    low = _MARGIN_MM + NUMBER_MM + 1.0
    for edge, play in zip(edges, trial_plays(spec), strict=True):
        x0, y0, x1, _ = edge.bounds
        cuts.append(translate(inside_of(edge, spec.kerf_mm), left - x0, low - y0))
        marks += under(f"{play:g}", left + (x1 - x0) / 2, low - 0.5)
        left += x1 - x0 + spec.gap_mm
    height = low + max(e.bounds[3] - e.bounds[1] for e in edges) + _MARGIN_MM
    return CutSheet((left - spec.gap_mm + _MARGIN_MM, height), tuple(cuts), tuple(marks))
