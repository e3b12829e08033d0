"""What is to do now in a batch: one thing first, then what may be done beside it.

Three rules decide, all common practice. Somebody stays with a burning piece: meanwhile one may look at what is washed,
but not go to the sink. The first piece is washed and looked at before a second one burns. After that the laser comes
first, since everything else can be done while the next piece cools.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum
from itertools import groupby

from keencoat.core.states import PieceState


@dataclass(frozen=True)
class PieceNow:
    """A piece of the batch as it stands: its key, its number (from 1), the turn in which it lies under the laser (all
    pieces of a load have the same one), its state and since when."""

    key: int
    number: int
    turn: int
    state: PieceState
    since: datetime


@dataclass(frozen=True)
class Times:
    """How long a piece burns, and the least and most until it can be washed, s; None while nothing says."""

    burn_s: float | None = None
    cool_s: tuple[float, float] | None = None


class TaskKind(StrEnum):
    """What hands or eyes do."""

    PLACE = "place"
    FRAME = "frame"
    BURN = "burn"
    WATCH = "watch"
    COOL = "cool"
    WASH = "wash"
    LOOK = "look"
    CLOSE = "close"


@dataclass(frozen=True)
class PieceTask:
    """Something to do with some pieces; `due_at`: when the burn should end, or when they should be cool enough."""

    kind: TaskKind
    pieces: tuple[PieceNow, ...]
    due_at: datetime | None = None


_UNDER_LASER = {
    PieceState.WAITING: TaskKind.PLACE,
    PieceState.PLACED: TaskKind.FRAME,
    PieceState.FRAMED: TaskKind.BURN,
}


def tasks_of(pieces: Sequence[PieceNow], times: Times, now: datetime) -> tuple[PieceTask, ...]:
    """What is to do, the one thing first; nothing for a batch without pieces.

    >>> at = datetime(2026, 5, 4, 9)
    >>> one, two = (PieceNow(n, n, n, PieceState.WAITING, at) for n in (1, 2))
    >>> [(task.kind.value, task.pieces[0].number) for task in tasks_of([one, two], Times(), at)]
    [('place', 1)]
    """
    burning = [p for p in pieces if p.state is PieceState.BURNING]
    looks = [PieceTask(TaskKind.LOOK, (p,)) for p in pieces if p.state is PieceState.WASHED]
    if burning:
        return (_watch(burning, times), *looks)
    sink = sorted(_sink(pieces, times, now), key=lambda task: (task.due_at or now, task.pieces[0].number))
    laser = list(_laser(pieces))
    if not any(p.state is PieceState.LOOKED for p in pieces):
        found = (*looks, *sink, *laser)
    else:
        found = (*laser, *looks, *sink)
    if not found and pieces:
        return (PieceTask(TaskKind.CLOSE, ()),)
    return found


def _watch(burning: Sequence[PieceNow], times: Times) -> PieceTask:
    since = min(p.since for p in burning)
    due = since + timedelta(seconds=times.burn_s * len(burning)) if times.burn_s is not None else None
    return PieceTask(TaskKind.WATCH, tuple(burning), due)


def _laser(pieces: Iterable[PieceNow]) -> Iterator[PieceTask]:
    """The next turn under the laser: what is furthest comes first, so that no framed piece is taken off again."""
    waiting = sorted((p for p in pieces if p.state in _UNDER_LASER), key=lambda p: (p.turn, p.number))
    turns = [list(turn) for _, turn in groupby(waiting, key=lambda p: p.turn)]
    if not turns:
        return
    order = list(_UNDER_LASER)
    turn = max(turns, key=lambda t: max(order.index(p.state) for p in t))
    least = min((p.state for p in turn), key=order.index)
    yield PieceTask(_UNDER_LASER[least], tuple(p for p in turn if p.state is least))


def _sink(pieces: Iterable[PieceNow], times: Times, now: datetime) -> Iterator[PieceTask]:
    for piece in pieces:
        if piece.state is not PieceState.COOLING:
            continue
        due = piece.since + timedelta(seconds=times.cool_s[1]) if times.cool_s else None
        kind = TaskKind.COOL if due and due > now else TaskKind.WASH
        yield PieceTask(kind, (piece,), due)
