"""Who to coat when: a plan for one pair of hands over all that dries, so that little waits and nothing is rushed.

List scheduling: whenever the hands are free, they take the piece with the longest work still ahead of it (coats and
drying) among those that are dry enough. Checked against exact optima of small batches in the tests.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from keencoat.core.errors import require_within

_MOST_UNITS = 400


@dataclass(frozen=True)
class Load:
    """Pieces that stand alike: `coats_left` coats, the first of them from `ready_min` on (minutes from now).

    `hands_min` is the time one coat of one piece takes, `between_min` and `last_min` the drying after a coat and after
    the last one, `setup_min` getting the tool ready when the hands come from another job.
    """

    key: str
    first: int
    last: int
    coats_on: int
    coats_left: int
    ready_min: float
    hands_min: float
    between_min: float
    last_min: float
    setup_min: float = 0.0


@dataclass(frozen=True)
class Turn:
    """The hands put coat `number` on pieces `first` to `last` of a job, from `start_min` to `end_min`."""

    key: str
    first: int
    last: int
    number: int
    start_min: float
    end_min: float


@dataclass(frozen=True)
class HandsPlan:
    """Turns in order, and when everything is dry enough to burn, minutes from now."""

    turns: tuple[Turn, ...]
    done_min: float


@dataclass
class _Unit:
    load: Load
    first: int
    last: int
    left: int
    ready_min: float

    @property
    def work_min(self) -> float:
        return self.load.hands_min * (self.last - self.first + 1)

    @property
    def tail_min(self) -> float:
        """What lies ahead of it after this coat went on."""
        return (self.left - 1) * (self.work_min + self.load.between_min) + self.load.last_min


def plan_hands(loads: Sequence[Load]) -> HandsPlan:
    """Plan the turns of one pair of hands over all loads."""
    for load in loads:
        for name in ("ready_min", "hands_min", "between_min", "last_min", "setup_min"):
            require_within(getattr(load, name), 0, 1e6, name)
    units = _units([load for load in loads if load.coats_left > 0])
    now, done, last_key = 0.0, max((load.ready_min for load in loads if load.coats_left == 0), default=0.0), ""
    turns: list[Turn] = []
    while units:
        soonest = min(u.ready_min for u in units)
        now = max(now, soonest)
        # Staying with the job at hand saves its setup; otherwise the longest tail goes first.
        unit = max(
            (u for u in units if u.ready_min <= now + 1e-9),
            key=lambda u: (u.tail_min + (u.load.setup_min if u.load.key == last_key else 0.0), -u.first),
        )
        start = now
        now += unit.work_min + (unit.load.setup_min if unit.load.key != last_key else 0.0)
        last_key = unit.load.key
        number = unit.load.coats_on + unit.load.coats_left - unit.left + 1
        turns.append(Turn(last_key, unit.first, unit.last, number, start, now))
        unit.left -= 1
        unit.ready_min = now + (unit.load.between_min if unit.left else unit.load.last_min)
        if not unit.left:
            done = max(done, unit.ready_min)
            units.remove(unit)
    return HandsPlan(tuple(_merged(turns)), done)


def _units(loads: Sequence[Load]) -> list[_Unit]:
    """Single pieces, or trays of some where there are very many."""
    total = sum((load.last - load.first + 1) * load.coats_left for load in loads)
    tray = max(1, -(-total // _MOST_UNITS))
    return [
        _Unit(load, first, min(first + tray - 1, load.last), load.coats_left, load.ready_min)
        for load in loads
        for first in range(load.first, load.last + 1, tray)
    ]


def _merged(turns: Sequence[Turn]) -> list[Turn]:
    merged: list[Turn] = []
    for turn in turns:
        before = merged[-1] if merged else None
        if (
            before
            and (before.key, before.number, before.last + 1) == (turn.key, turn.number, turn.first)
            and turn.start_min - before.end_min < 1e-6
        ):
            merged[-1] = Turn(turn.key, before.first, turn.last, turn.number, before.start_min, turn.end_min)
        else:
            merged.append(turn)
    return merged
