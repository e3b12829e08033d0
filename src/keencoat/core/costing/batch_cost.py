"""What a batch costs, and a good piece of it: blanks, coat, hands, machine, tests, and the pieces that are lost.

Money is Decimal, in the workshop's currency; each line is rounded to the cent, and the whole is the sum of its lines.
A piece comes out clean with the share p that the window says: for n good ones n/p are burned (the mean of the negative
binomial distribution).
"""

from dataclasses import dataclass
from decimal import ROUND_HALF_EVEN, ROUND_UP, Decimal
from enum import StrEnum

from keencoat.core.errors import BadValueError, require_within
from keencoat.core.quantities import Range

_CENT = Decimal("0.01")
_HOUR_MIN = Decimal(60)
_KILO = Decimal(1000)
LEAST_SHARE = 0.05
"""With fewer clean pieces than this nobody knows what a good one costs."""
_MOST_SHARES = Decimal("0.95")


@dataclass(frozen=True)
class Rates:
    """What the shop reckons with: an hour of hands, one of the machine (wear, tube, filters), a kilowatt-hour, what
    machine and extraction draw from the wall, W, the share of a price that goes to fees, and the tax on a price."""

    hand_hour: Decimal
    machine_hour: Decimal
    kwh: Decimal
    draw_w: Decimal
    fee_share: Decimal
    tax_share: Decimal

    def __post_init__(self) -> None:
        for name in ("hand_hour", "machine_hour", "kwh"):
            require_within(float(getattr(self, name)), 0, 100_000, name)
        require_within(float(self.draw_w), 0, 100_000, "draw_w", "W")
        require_within(float(self.fee_share), 0, 0.9, "fee_share")
        require_within(float(self.tax_share), 0, 1, "tax_share")


@dataclass(frozen=True)
class PieceWork:
    """What one piece takes. `hands_min`: coating, placing, washing, looking; `finish_min`: what only good ones get."""

    blank: Decimal
    coat: Decimal
    consumables: Decimal
    hands_min: Decimal
    finish_min: Decimal
    machine_min: Decimal

    def __post_init__(self) -> None:
        for name in ("blank", "coat", "consumables"):
            require_within(float(getattr(self, name)), 0, 1_000_000, name)
        for name in ("hands_min", "finish_min", "machine_min"):
            require_within(float(getattr(self, name)), 0, 100_000, name, "min")


@dataclass(frozen=True)
class Order:
    """So many good pieces; what setting up takes once; how many pieces carried test grids, and what they took."""

    good: int
    setup_min: Decimal
    tests: int = 0
    test_hands_min: Decimal = Decimal(0)
    test_machine_min: Decimal = Decimal(0)

    def __post_init__(self) -> None:
        require_within(self.good, 1, 1_000_000, "good", "pieces")
        require_within(float(self.setup_min), 0, 100_000, "setup_min", "min")
        require_within(self.tests, 0, 1_000_000, "tests", "pieces")


class CostKind(StrEnum):
    """What a line is for."""

    BLANKS = "blanks"
    COAT = "coat"
    CONSUMABLES = "consumables"
    HANDS = "hands"
    MACHINE = "machine"
    POWER = "power"
    FINISHING = "finishing"
    SETUP = "setup"
    TESTS = "tests"
    LOST = "lost"


@dataclass(frozen=True)
class CostLine:
    """So much for that."""

    kind: CostKind
    amount: Decimal


@dataclass(frozen=True)
class MoneyRange:
    """An amount with the range that holds it nine times in ten; `high` None: nobody can say."""

    low: Decimal
    mid: Decimal
    high: Decimal | None


@dataclass(frozen=True)
class BatchCost:
    """A batch by its lines. `burned`: pieces put under the laser for the good ones; `hands_h`: hours of hands, with
    lost and test pieces."""

    good: int
    burned: float
    lines: tuple[CostLine, ...]
    per_good: MoneyRange
    hands_h: Decimal
    hands: Decimal

    @property
    def total(self) -> Decimal:
        """The sum of the lines."""
        return sum((line.amount for line in self.lines), Decimal(0))


def money(amount: Decimal) -> Decimal:
    """An amount rounded to the cent, halves to the even one (IEEE 754's and bankers' way)."""
    return amount.quantize(_CENT, ROUND_HALF_EVEN)


def spent_on(piece: PieceWork, rates: Rates) -> dict[CostKind, Decimal]:
    """What a piece costs until it is looked at, good or not, unrounded."""
    machine_h = piece.machine_min / _HOUR_MIN
    return {
        CostKind.BLANKS: piece.blank,
        CostKind.COAT: piece.coat,
        CostKind.CONSUMABLES: piece.consumables,
        CostKind.HANDS: piece.hands_min / _HOUR_MIN * rates.hand_hour,
        CostKind.MACHINE: machine_h * rates.machine_hour,
        CostKind.POWER: machine_h * rates.draw_w / _KILO * rates.kwh,
    }


def cost_of_tests(rates: Rates, piece: PieceWork, order: Order) -> Decimal:
    """What all test pieces of an order cost, unrounded: each is coated and burned like any other; what its grid took is
    told of all grids together."""
    spent = spent_on(piece, rates)
    material = spent[CostKind.BLANKS] + spent[CostKind.COAT] + spent[CostKind.CONSUMABLES]
    grids = PieceWork(*(Decimal(0),) * 3, order.test_hands_min, Decimal(0), order.test_machine_min)
    return order.tests * material + _sum(spent_on(grids, rates))


def cost_of_batch(rates: Rates, piece: PieceWork, order: Order, clean: Range) -> BatchCost:
    """What the batch is expected to cost where a piece comes out clean with the share `clean`.

    Raises BadValueError where that is below LEAST_SHARE."""
    if not LEAST_SHARE <= clean.mid <= 1:
        raise BadValueError(
            f"Of 100 pieces {100 * clean.mid:.0f} are expected to come out clean.",
            field="clean",
            hint="Find a better setting first: what a good piece costs is anybody's guess.",
        )

    def each(share: float) -> Decimal:
        return _each(_lines(rates, piece, order, order.good / share), order.good)

    high = each(clean.low) if clean.low >= LEAST_SHARE else None
    per_good = MoneyRange(each(clean.high), each(clean.mid), high)
    return _whole(rates, piece, order, order.good / clean.mid, per_good)


def cost_counted(rates: Rates, piece: PieceWork, order: Order, burned: int) -> BatchCost:
    """What a batch did cost of which `order.good` pieces of `burned` came out clean."""
    require_within(burned, order.good, 1_000_000, "burned", "pieces")
    each = _each(_lines(rates, piece, order, burned), order.good)
    return _whole(rates, piece, order, burned, MoneyRange(each, each, each))


def _whole(rates: Rates, piece: PieceWork, order: Order, burned: float, per_good: MoneyRange) -> BatchCost:
    minutes = _exact(burned) * piece.hands_min + order.good * piece.finish_min + order.setup_min + order.test_hands_min
    hands_h = minutes / _HOUR_MIN
    lines = _lines(rates, piece, order, burned)
    return BatchCost(order.good, burned, lines, per_good, hands_h, money(hands_h * rates.hand_hour))


def _each(lines: tuple[CostLine, ...], good: int) -> Decimal:
    return money(sum((line.amount for line in lines), Decimal(0)) / good)


def _lines(rates: Rates, piece: PieceWork, order: Order, burned: float) -> tuple[CostLine, ...]:
    spent = spent_on(piece, rates)
    hand_min = rates.hand_hour / _HOUR_MIN
    amounts = {kind: order.good * amount for kind, amount in spent.items()} | {
        CostKind.FINISHING: order.good * piece.finish_min * hand_min,
        CostKind.SETUP: order.setup_min * hand_min,
        CostKind.TESTS: cost_of_tests(rates, piece, order),
        CostKind.LOST: (_exact(burned) - order.good) * _sum(spent),
    }
    return tuple(CostLine(kind, money(amount)) for kind, amount in amounts.items())


def _sum(amounts: dict[CostKind, Decimal]) -> Decimal:
    return sum(amounts.values(), Decimal(0))


def _exact(count: float) -> Decimal:
    return Decimal(repr(count))


def price_by_margin(cost: BatchCost, margin: Decimal, fee_share: Decimal) -> Decimal:
    """The price of a good piece of which `margin` is left once cost and fees are paid, rounded up to the cent.

    Raises BadValueError where margin and fees leave nothing for the cost."""
    _require_rest(margin, fee_share, "margin")
    return _up(cost.total / cost.good / (1 - margin - fee_share))


def price_by_wage(cost: BatchCost, wage: Decimal, fee_share: Decimal) -> Decimal:
    """The price of a good piece by which an hour of hands earns `wage`, rounded up to the cent."""
    require_within(float(wage), 0, 100_000, "wage")
    _require_rest(Decimal(0), fee_share, "fee_share")
    return _up((cost.total - cost.hands + wage * cost.hands_h) / cost.good / (1 - fee_share))


def earned_an_hour(cost: BatchCost, price: Decimal, fee_share: Decimal) -> Decimal | None:
    """What an hour of hands earns at a price; None where no hand is needed."""
    if cost.hands_h == 0:
        return None
    return money((price * cost.good * (1 - fee_share) - (cost.total - cost.hands)) / cost.hands_h)


def _require_rest(margin: Decimal, fee_share: Decimal, field: str) -> None:
    require_within(float(margin), 0, 0.95, "margin")
    if margin + fee_share > _MOST_SHARES:
        raise BadValueError(
            f"Margin and fees together are {100 * (margin + fee_share):.0f} % of the price.",
            field=field,
            hint=f"They must leave at least {100 * (1 - _MOST_SHARES):.0f} % for the cost.",
        )


def _up(amount: Decimal) -> Decimal:
    return amount.quantize(_CENT, ROUND_UP)
