"""A reliability diagram as SVG: what was claimed along, what held up, a mark for each bin of answers."""

from collections.abc import Mapping, Sequence
from math import sqrt
from pathlib import Path

from statsmodels.stats.proportion import proportion_confint

_SIDE, _EDGE, _BAND = 300, 50, 0.07
_MARKS = (("#1f5f8b", "circle"), ("#b4632a", "square"), ("#4b7f3a", "diamond"))

Row = tuple[float, float, int]


def draw_reliability(title: str, series: Mapping[str, Sequence[Row]], to: Path) -> None:
    """Write the diagram of each telling's rows (claimed, held, answers), each with the range that holds its share nine
    times in ten (Wilson 1927), over the band of 0.07 about the line on which claims hold."""
    parts = [_frame(title)]
    for (words, rows), (ink, shape) in zip(series.items(), _MARKS, strict=True):
        for claimed, held, answers in rows:
            low, high = proportion_confint(round(held * answers), answers, alpha=0.1, method="wilson")
            x = _x(claimed)
            parts.append(f'<line x1="{x:.1f}" y1="{_y(low):.1f}" x2="{x:.1f}" y2="{_y(high):.1f}" stroke="{ink}"/>')
            parts.append(_mark(shape, x, _y(held), 2 + sqrt(answers) / 3, ink))
        row = _EDGE + _SIDE - 20 - 20 * (len(_MARKS) - 1 - list(series).index(words))
        parts.append(_mark(shape, _x(0.68), row, 5, ink))
        parts.append(f'<text x="{_x(0.68) + 12:.1f}" y="{row + 4}">{words} ({sum(r[2] for r in rows)})</text>')
    whole = _SIDE + 2 * _EDGE
    to.write_text(
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {whole} {whole}" width="{whole}" height="{whole}" '
        f'font-family="sans-serif" font-size="12">{"".join(parts)}</svg>\n'
    )


def _frame(title: str) -> str:
    band = " ".join(
        f"{_x(claimed):.1f},{_y(held):.1f}"
        for claimed, held in ((0, 0), (0, _BAND), (1 - _BAND, 1), (1, 1), (1, 1 - _BAND), (_BAND, 0))
    )
    ticks = "".join(
        f'<text x="{_x(share)}" y="{_EDGE + _SIDE + 16}" text-anchor="middle">{share}</text>'
        f'<text x="{_EDGE - 6}" y="{_y(share) + 4}" text-anchor="end">{share}</text>'
        for share in (0, 0.5, 1)
    )
    middle = _EDGE + _SIDE / 2
    return (
        f'<rect width="100%" height="100%" fill="#fff"/><polygon points="{band}" fill="#e4e4de"/>'
        f'<rect x="{_EDGE}" y="{_EDGE}" width="{_SIDE}" height="{_SIDE}" fill="none" stroke="#333"/>'
        f'<line x1="{_x(0)}" y1="{_y(0)}" x2="{_x(1)}" y2="{_y(1)}" stroke="#888" stroke-dasharray="4 4"/>{ticks}'
        f'<text x="{middle}" y="{_EDGE - 18}" text-anchor="middle" font-size="14">{title}</text>'
        f'<text x="{middle}" y="{_EDGE + _SIDE + 34}" text-anchor="middle">odds that were told</text>'
        f'<text x="14" y="{middle}" text-anchor="middle" transform="rotate(-90 14 {middle})">share that held</text>'
    )


def _mark(shape: str, x: float, y: float, size: float, ink: str) -> str:
    if shape == "circle":
        return f'<circle cx="{x:.1f}" cy="{y:.1f}" r="{size:.1f}" fill="{ink}"/>'
    turn = f' transform="rotate(45 {x:.1f} {y:.1f})"' if shape == "diamond" else ""
    side = 1.7 * size
    return (
        f'<rect x="{x - side / 2:.1f}" y="{y - side / 2:.1f}" width="{side:.1f}" height="{side:.1f}" '
        f'fill="{ink}"{turn}/>'
    )


def _x(claimed: float) -> float:
    return _EDGE + claimed * _SIDE


def _y(held: float) -> float:
    return _EDGE + (1 - held) * _SIDE
