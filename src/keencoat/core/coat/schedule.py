"""The coats of a job one by one: direction, when the next may go on, when it may be burned."""

from dataclasses import dataclass
from datetime import datetime, timedelta

from keencoat.core.coat.recipes import Coat
from keencoat.core.errors import NotAllowedError, require_within


@dataclass(frozen=True)
class CoatStep:
    """One coat. `direction_deg` is the brush or spray direction on the piece; `wait_min` follows the coat."""

    number: int
    direction_deg: int
    wait_min: float
    wait_low_min: float
    wait_high_min: float
    then_burn: bool


@dataclass(frozen=True)
class Drying:
    """Where a coat stands at a moment."""

    coats_on: int
    coats_planned: int
    put_on_at: datetime | None
    next_at: datetime | None
    earliest_at: datetime | None
    latest_at: datetime | None
    ready: bool

    @property
    def all_on(self) -> bool:
        """Whether every planned coat is on."""
        return self.coats_on >= self.coats_planned


def coat_steps(coat: Coat, coats: int) -> list[CoatStep]:
    """The steps for `coats` coats, the second at 90° to the first, and so on, where the coat is crossed."""
    require_within(coats, 1, 50, "coats")
    steps = []
    for number in range(1, coats + 1):
        last = number == coats
        span = coat.before_burn_min.value if last else coat.between_min.value
        direction = 90 if coat.crossed and number % 2 == 0 else 0
        steps.append(CoatStep(number, direction, span.plan, span.low, span.high, last))
    return steps


def drying_at(coat: Coat, coats: int, stamps: list[datetime], now: datetime) -> Drying:
    """Where the coat stands at `now`, from the times at which coats were put on.

    `ready` means: the next coat may go on, or, with all coats on, it may be burned.
    """
    if len(stamps) > coats:
        raise NotAllowedError(
            f"All {coats} coats are on already.", field="coats", hint="Raise the number of coats first."
        )
    if not stamps:
        return Drying(0, coats, None, None, None, None, ready=True)
    step = coat_steps(coat, coats)[len(stamps) - 1]
    put_on_at = stamps[-1]
    next_at = put_on_at + timedelta(minutes=step.wait_min)
    return Drying(
        len(stamps),
        coats,
        put_on_at,
        next_at,
        put_on_at + timedelta(minutes=step.wait_low_min),
        put_on_at + timedelta(minutes=step.wait_high_min),
        ready=now >= next_at,
    )
