"""Which pieces lie in which pocket, load by load."""

from dataclasses import dataclass

from keencoat.core.errors import require_within


@dataclass(frozen=True)
class Load:
    """One filling of a jig: the pieces of the batch (from 1) in pockets 1, 2, 3 …"""

    first_piece: int
    last_piece: int


def loads_of(pockets: int, pieces: int) -> tuple[Load, ...]:
    """The batch load by load, the last one perhaps not full.

    >>> loads_of(9, 24)[-1]
    Load(first_piece=19, last_piece=24)
    """
    require_within(pieces, 1, 100_000, "pieces")
    require_within(pockets, 1, 10_000, "pockets")
    return tuple(Load(first, min(first + pockets - 1, pieces)) for first in range(1, pieces + 1, pockets))
