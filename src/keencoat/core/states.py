"""What a job and a grid may become next: one table, one function that moves."""

from collections.abc import Mapping
from enum import StrEnum
from typing import TypeVar

from keencoat.core.errors import NotAllowedError


class GridState(StrEnum):
    """A grid is drawn, then burned (its cells are fixed from then on), then rated."""

    DRAWN = "drawn"
    BURNED = "burned"
    RATED = "rated"


class JobState(StrEnum):
    """A job is open until a setting is locked; newer evidence locks it again."""

    OPEN = "open"
    LOCKED = "locked"


GRID_MOVES: Mapping[GridState, frozenset[GridState]] = {
    GridState.DRAWN: frozenset({GridState.BURNED}),
    GridState.BURNED: frozenset({GridState.RATED}),
    # An undone or cleared rating leaves the grid with a cell to rate again.
    GridState.RATED: frozenset({GridState.BURNED}),
}
JOB_MOVES: Mapping[JobState, frozenset[JobState]] = {
    JobState.OPEN: frozenset({JobState.LOCKED}),
    JobState.LOCKED: frozenset({JobState.LOCKED}),
}


class BurnState(StrEnum):
    """A burn waits for a laser, runs, may be held, and ends: done, stopped by hand, or failed."""

    QUEUED = "queued"
    RUNNING = "running"
    HELD = "held"
    DONE = "done"
    STOPPED = "stopped"
    FAILED = "failed"

    @property
    def over(self) -> bool:
        """Whether nothing more will happen."""
        return self in (BurnState.DONE, BurnState.STOPPED, BurnState.FAILED)


_ENDS = frozenset({BurnState.DONE, BurnState.STOPPED, BurnState.FAILED})
BURN_MOVES: Mapping[BurnState, frozenset[BurnState]] = {
    BurnState.QUEUED: frozenset({BurnState.RUNNING, BurnState.STOPPED, BurnState.FAILED}),
    BurnState.RUNNING: _ENDS | {BurnState.HELD},
    BurnState.HELD: _ENDS | {BurnState.RUNNING},
    BurnState.DONE: frozenset(),
    BurnState.STOPPED: frozenset(),
    BurnState.FAILED: frozenset(),
}


class PieceState(StrEnum):
    """A piece of a batch waits, lies in its place, is framed, burns, cools, is washed, and is looked at; or it is
    stopped while it burns, or passed over."""

    WAITING = "waiting"
    PLACED = "placed"
    FRAMED = "framed"
    BURNING = "burning"
    COOLING = "cooling"
    WASHED = "washed"
    LOOKED = "looked"
    STOPPED = "stopped"
    SKIPPED = "skipped"

    @property
    def over(self) -> bool:
        """Whether nothing more need happen to it."""
        return self in (PieceState.LOOKED, PieceState.STOPPED, PieceState.SKIPPED)


_TAKEN_OFF = frozenset({PieceState.WAITING, PieceState.SKIPPED})
PIECE_MOVES: Mapping[PieceState, frozenset[PieceState]] = {
    PieceState.WAITING: frozenset({PieceState.PLACED, PieceState.SKIPPED}),
    PieceState.PLACED: _TAKEN_OFF | {PieceState.FRAMED},
    PieceState.FRAMED: _TAKEN_OFF | {PieceState.PLACED, PieceState.BURNING},
    PieceState.BURNING: frozenset({PieceState.COOLING, PieceState.STOPPED}),
    PieceState.COOLING: frozenset({PieceState.WASHED}),
    PieceState.WASHED: frozenset({PieceState.LOOKED}),
    PieceState.LOOKED: frozenset(),
    # What stopped early can still be washed and looked at; a fresh piece takes its place (redo).
    PieceState.STOPPED: frozenset({PieceState.WASHED}),
    PieceState.SKIPPED: frozenset({PieceState.WAITING}),
}


State = TypeVar("State", bound=StrEnum)


def move(moves: Mapping[State, frozenset[State]], now: State, wanted: State) -> State:
    """Return `wanted` if the table allows it from `now`; raise NotAllowedError that names what is allowed."""
    if wanted in moves[now]:
        return wanted
    allowed = ", ".join(sorted(moves[now])) or "nothing"
    raise NotAllowedError(f"From “{now}” it cannot become “{wanted}”.", field="state", hint=f"Allowed: {allowed}.")
