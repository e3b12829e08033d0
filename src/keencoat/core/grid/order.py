"""In which order cells burn: the next one far from those still warm, so that no cell starts on a neighbour's heat."""

import math
from collections.abc import Sequence

from keencoat.core.grid.layout import PlacedCell

_WARM = 4


def burn_order(cells: Sequence[PlacedCell], energy_j: Sequence[float]) -> list[int]:
    """Indices of `cells` in burning order, for the energy each gets, J. The coolest goes first.

    Greedy: the cell whose warmth from the last few burned (energy over distance squared, fading with each) is least;
    among equals the one in reading order. The same input gives the same order.
    """
    if not cells:
        return []
    left = list(range(len(cells)))
    order = [min(left, key=lambda i: (energy_j[i], i))]
    left.remove(order[0])
    while left:
        warm = order[: -_WARM - 1 : -1]

        def warmth(i: int, warm: list[int] = warm) -> float:
            return sum(
                energy_j[j] / (1 + age) / math.hypot(cells[i].x_mm - cells[j].x_mm, cells[i].y_mm - cells[j].y_mm) ** 2
                for age, j in enumerate(warm)
            )

        order.append(min(left, key=lambda i: (round(warmth(i), 9), i)))
        left.remove(order[-1])
    return order
