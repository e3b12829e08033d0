"""Which pieces lie in which pocket, load by load, and in which order they are burned so that neighbours cool."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from keencoat.core.errors import BadValueError, require_within
from keencoat.core.jig.layout import Jig, Pocket

MOST_WARM = 8
_FEW, _MOST_CHANGES, _STARTS = 60, 40, 6


@dataclass(frozen=True)
class Seat:
    """A piece of the batch (from 1) in its pocket."""

    piece: int
    pocket: Pocket


def loads_of(jig: Jig, pieces: int) -> tuple[tuple[Seat, ...], ...]:
    """The batch load by load, pockets by their numbers, the last load perhaps not full."""
    require_within(pieces, 1, 100_000, "pieces")
    held = len(jig.pockets)
    return tuple(
        tuple(Seat(first + n, pocket) for n, pocket in enumerate(jig.pockets[: pieces - first + 1]))
        for first in range(1, pieces + 1, held)
    )


def still_warm(cool_s: float, piece_s: float) -> int:
    """How many pieces before this one are still warm, where each takes so long to burn and so long to cool; 0 to 8.

    >>> still_warm(100, 40)
    3
    """
    if cool_s <= 0:
        return 0
    return min(MOST_WARM, math.ceil(cool_s / max(piece_s, 1e-3)))


def cooling_order(seats: tuple[Seat, ...], warm: int) -> tuple[Seat, ...]:
    """The same seats from the first on, each as far as can be from the `warm` ones before it; without any as they are.

    Of the strides that meet each once the best; up to 60 pieces, some are bettered first for as long as that helps.
    """
    count = len(seats)
    if not warm or count < 3:
        return seats
    at = _middles(seats)
    strides = [np.arange(count) * n % count for n in range(1, count) if math.gcd(n, count) == 1]
    strides.sort(key=lambda order: _crowding(at[order], warm))
    if count <= _FEW:
        strides = [_bettered(order, at, warm) for order in strides[:_STARTS]]
    return tuple(seats[n] for n in min(strides, key=lambda order: _crowding(at[order], warm)))


def from_pocket(order: tuple[Seat, ...], number: int) -> tuple[Seat, ...]:
    """What is left of a load, in its order, where a run stopped at that pocket. Raises BadValueError if nothing lies
    there."""
    numbers = [seat.pocket.number for seat in order]
    if number not in numbers:
        raise BadValueError(
            f"No piece of this load lies in pocket {number}.",
            field="from_pocket",
            hint=f"Give one of pockets {min(numbers)} to {max(numbers)}.",
        )
    return order[numbers.index(number) :]


def closest_mm(order: tuple[Seat, ...], warm: int) -> float | None:
    """The least distance, between middles, of a piece from one that was still warm when it was burned; None where none
    was."""
    found = _closest(_middles(order), warm)
    return found if math.isfinite(found) else None


def _middles(seats: tuple[Seat, ...]) -> np.ndarray:
    return np.array([(s.pocket.x_mm, s.pocket.y_mm) for s in seats]).reshape(-1, 2)


def _closest(at: np.ndarray, warm: int) -> float:
    near = [_apart(at, n).min() for n in range(1, min(warm, len(at) - 1) + 1)]
    return float(min(near, default=math.inf))


def _crowding(at: np.ndarray, warm: int) -> float:
    """Σ d⁻¹² over pairs of a piece and a warm one before it: the closest pair counts, then the next."""
    return float(sum((_apart(at, n) ** -12.0).sum() for n in range(1, min(warm, len(at) - 1) + 1)))


def _bettered(order: np.ndarray, at: np.ndarray, warm: int) -> np.ndarray:
    for _ in range(_MOST_CHANGES):
        better = min(_changed(order, at, warm), key=lambda found: _crowding(at[found], warm))
        if _crowding(at[better], warm) >= _crowding(at[order], warm) * (1 - 1e-9):
            break
        order = better
    return order


def _changed(order: np.ndarray, at: np.ndarray, warm: int) -> Iterator[np.ndarray]:
    """Orders with one of the closest two in another one's turn, or all between them the other way; the first piece
    stays the first."""
    near = [_apart(at[order], n) for n in range(1, min(warm, len(order) - 1) + 1)]
    turns = min(range(len(near)), key=lambda n: float(near[n].min()))
    first = int(near[turns].argmin())
    for one in (first, first + turns + 1):
        for other in range(1, len(order)):
            if one not in (0, other):
                swapped = order.copy()
                swapped[[one, other]] = order[[other, one]]
                yield swapped
                low, high = sorted((one, other))
                swapped = order.copy()
                swapped[low : high + 1] = order[low : high + 1][::-1]
                yield swapped


def _apart(at: np.ndarray, turns: int) -> np.ndarray:
    return np.asarray(np.hypot(*(at[turns:] - at[:-turns]).T))
