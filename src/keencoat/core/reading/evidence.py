"""What photos of one grid say together, and how near to a boundary their figures put a cell.

Each photo shows what its light shows, so harms add up and tones are averaged.
"""

from dataclasses import replace
from statistics import fmean

from keencoat.core.reading.cells import CellReading
from keencoat.core.reading.rate import fullness, harms
from keencoat.core.window import beyond_enough, beyond_harm


def join_readings(readings: list[CellReading]) -> CellReading:
    """One reading of a cell from several photos of it: the worse of each harm, the mean of tones, what any photo
    resolves of stripes and strokes. `readings` has one at least, all of the same cell."""
    first = readings[0]
    if len(readings) == 1:
        return first
    stripes = [r.stripes for r in readings if r.stripes is not None]
    seen = [r.strokes_seen for r in readings if r.strokes_seen is not None]
    doubts = [set(r.doubts) for r in readings]
    return replace(
        first,
        # What one photo shows well, another need not.
        doubts=tuple(sorted(set.intersection(*doubts))),
        blur_mm=min(r.blur_mm for r in readings),
        contrast_l=round(fmean(r.contrast_l for r in readings), 2),
        weber=round(fmean(r.weber for r in readings), 3),
        michelson=round(fmean(r.michelson for r in readings), 4),
        full_share=round(fmean(r.full_share for r in readings), 3),
        gap_share=round(fmean(r.gap_share for r in readings), 4),
        hole_share=round(fmean(r.hole_share for r in readings), 4),
        unevenness=max(r.unevenness for r in readings),
        stripes=max(stripes) if stripes else None,
        speck_share=max(r.speck_share for r in readings),
        speck_count=max(r.speck_count for r in readings),
        roughness_mm=max(r.roughness_mm for r in readings),
        haze=max(r.haze for r in readings),
        tint_de=max(r.tint_de for r in readings),
        strokes_seen=max(seen) if seen else None,
        strokes_merged=any(bool(r.strokes_merged) for r in readings) if seen else None,
    )


def beyond_boundaries(cell: CellReading, process: str) -> tuple[float | None, float | None]:
    """How far beyond the enough and the too-much boundary a measured cell lies, in ln energy; None where its figures
    are too far from the limit to tell more than its rating does."""
    return beyond_enough(fullness(cell)), beyond_harm(harms(cell, process)[0][0])
