"""A jig as a sheet: its pockets are cut half the kerf inside their edge; crosses, numbers and hole lines are marked."""

from keencoat.core.jig.cut_sheet import CutSheet, Stroke, cross_strokes
from keencoat.core.jig.layout import Jig
from keencoat.core.toolpath import text_strokes, text_width_mm

NUMBER_MM = 3.0


def sheet_of(jig: Jig) -> CutSheet:
    """What is cut and marked of a jig: its crosses, a number under every pocket where the gap has room for it, and
    lines that say where holes point."""
    marks: list[Stroke] = []
    for x, y in jig.crosses_mm:
        marks += cross_strokes(x, y)
    low = jig.edge.bounds[1]
    high = min(NUMBER_MM, jig.spec.gap_mm - 1.0)
    for pocket in jig.pockets:
        if high >= 1.0:
            marks += under(str(pocket.number), pocket.x_mm, pocket.y_mm + low - 0.5, high)
        if line := jig.hole_line(pocket):
            marks.append(line)
    return CutSheet(jig.spec.sheet_mm, tuple(jig.cuts()), tuple(marks))


def under(text: str, middle_mm: float, top_mm: float, high_mm: float = NUMBER_MM) -> list[Stroke]:
    """Letters so high with their top and their middle there."""
    return text_strokes(text, middle_mm - text_width_mm(text, high_mm) / 2, top_mm - high_mm, high_mm)
