"""The coats of a batch: direction, which pieces carry how many, when the next may go on, when they may be burned.

Pieces of a job are numbered from 1, the spares last. A stamp says that one coat is on a run of pieces; pieces with the
same stamps form a group.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise

from keencoat.core.coat.drying import AirSpell, Correction, Heat, dry_at, span_for
from keencoat.core.coat.recipes import Coat, Span
from keencoat.core.errors import BadValueError, NotAllowedError, require_within


@dataclass(frozen=True)
class CoatStep:
    """One coat. `direction_deg` is the brush or spray direction on the piece; minutes hold in the reference air."""

    number: int
    direction_deg: int
    wait_min: float
    wait_low_min: float
    wait_high_min: float
    then_burn: bool


@dataclass(frozen=True)
class Stamp:
    """Coat `number` went on pieces `first` to `last` at `at`; `seen_dry_at` is when the maker found it dry."""

    number: int
    first: int
    last: int
    at: datetime
    heat: Heat = Heat.NONE
    seen_dry_at: datetime | None = None


@dataclass(frozen=True)
class Course:
    """What decides how long a coat dries: the coat, its film, the air, the shop's own record, the chosen wait."""

    coat: Coat
    coats: int
    film_um: float
    spells: Sequence[AirSpell]
    correction: Correction
    last_wait_min: float | None = None

    def span(self, number: int) -> Span:
        """Minutes in the reference air after coat `number`."""
        return span_for(self.coat, number >= self.coats, self.film_um, self.correction, self.last_wait_min)


@dataclass(frozen=True)
class Group:
    """Pieces `first` to `last` that stand alike at a moment.

    `ready`: the next coat may go on, or, with all coats on, they may be burned. Times are None before the first coat.
    """

    first: int
    last: int
    coats_on: int
    coats_planned: int
    put_on_at: datetime | None
    next_at: datetime | None
    earliest_at: datetime | None
    latest_at: datetime | None
    ready: bool
    seen_dry: bool = False

    @property
    def all_on(self) -> bool:
        """Whether every planned coat is on."""
        return self.coats_on >= self.coats_planned

    @property
    def pieces(self) -> int:
        """How many pieces it holds."""
        return self.last - self.first + 1


def coat_steps(course: Course) -> list[CoatStep]:
    """The steps of all coats, the second at 90° to the first, and so on, where the coat is crossed."""
    require_within(course.coats, 1, 50, "coats")
    steps = []
    for number in range(1, course.coats + 1):
        span = course.span(number)
        direction = 90 if course.coat.crossed and number % 2 == 0 else 0
        steps.append(CoatStep(number, direction, span.plan, span.low, span.high, number == course.coats))
    return steps


def groups_at(course: Course, pieces: int, stamps: Sequence[Stamp], now: datetime) -> tuple[Group, ...]:
    """Where the pieces 1 to `pieces` stand at `now`, neighbours that stand alike as one group."""
    edges = sorted({1, pieces + 1, *(s.first for s in stamps), *(s.last + 1 for s in stamps)})
    edges = [e for e in edges if 1 <= e <= pieces + 1]
    groups: list[tuple[Group, Stamp | None]] = []
    for first, after in pairwise(edges):
        mine = [s for s in stamps if s.first <= first and s.last >= after - 1]
        newest = max(mine, key=lambda s: s.number, default=None)
        if groups and groups[-1][1] is newest:
            earlier = groups.pop()[0]
            groups.append((_group(course, earlier.first, after - 1, newest, now), newest))
        else:
            groups.append((_group(course, first, after - 1, newest, now), newest))
    return tuple(g for g, _ in groups)


def _group(course: Course, first: int, last: int, newest: Stamp | None, now: datetime) -> Group:
    if newest is None:
        return Group(first, last, 0, course.coats, None, None, None, None, ready=True)
    span = course.span(newest.number)
    low, plan, high = (
        dry_at(newest.at, minutes, course.coat.carrier, newest.heat, course.spells)
        for minutes in (span.low, span.plan, span.high)
    )
    seen = newest.seen_dry_at
    next_at = seen or plan
    return Group(
        first,
        last,
        newest.number,
        course.coats,
        newest.at,
        next_at,
        seen or low,
        seen or high,
        ready=now >= next_at,
        seen_dry=seen is not None,
    )


def check_stamp(groups: Sequence[Group], number: int, first: int, last: int) -> None:
    """Raise unless coat `number` is the next one for every piece from `first` to `last`."""
    pieces, planned = groups[-1].last, groups[0].coats_planned
    require_within(first, 1, pieces, "first")
    if not first <= last <= pieces:
        raise BadValueError(
            f"Pieces {first} to {last} are not a run of this job.", field="last", hint=f"It has pieces 1 to {pieces}."
        )
    for group in groups:
        if group.last < first or group.first > last:
            continue
        if group.all_on:
            raise NotAllowedError(
                f"All {planned} coats are on pieces {group.first} to {group.last}.",
                field="number",
                hint="Raise the number of coats first.",
            )
        if group.coats_on + 1 != number:
            raise NotAllowedError(
                f"Coat {number} cannot go on pieces {group.first} to {group.last} now.",
                field="number",
                hint=f"Coat {group.coats_on + 1} is next there.",
            )


def leading(groups: Sequence[Group]) -> Group:
    """The group to speak of first: one that waits for hands, else the one that is due soonest."""
    waits_for_hands = [g for g in groups if g.ready and not g.all_on]
    if waits_for_hands:
        return max(waits_for_hands, key=lambda g: g.coats_on)
    drying = [g for g in groups if not g.ready and g.next_at is not None]
    unfinished = [g for g in drying if not g.all_on] or drying
    if unfinished:
        return min(unfinished, key=lambda g: g.next_at or datetime.max)
    return groups[-1]


@dataclass(frozen=True)
class Drying:
    """Where a job's coat stands: its leading group, and whether all coats are on all pieces and all are dry."""

    lead: Group
    groups: tuple[Group, ...]

    @property
    def all_on(self) -> bool:
        """Whether every planned coat is on every piece."""
        return all(g.all_on for g in self.groups)

    @property
    def ready(self) -> bool:
        """Whether hands can go on: a coat may go on somewhere, or everything may be burned."""
        return self.lead.ready

    @property
    def burnable_pieces(self) -> int:
        """How many pieces carry all coats and are dry."""
        return sum(g.pieces for g in self.groups if g.all_on and g.ready)


def drying_at(course: Course, pieces: int, stamps: Sequence[Stamp], now: datetime) -> Drying:
    """Where the coat of a job stands at `now`."""
    groups = groups_at(course, pieces, stamps, now)
    return Drying(leading(groups), groups)
