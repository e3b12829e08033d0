"""What the pieces that were looked at say of those that still wait."""

from collections.abc import Sequence
from dataclasses import dataclass

from scipy.special import bdtr

from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Finding, Severity
from keencoat.core.quantities import Range
from keencoat.core.rating import Rating

_UNLIKELY = 0.05


@dataclass(frozen=True)
class Looked:
    """A piece that was looked at, in the order of looking; None for one that was spoilt otherwise."""

    number: int
    rating: Rating | None


def batch_findings(looked: Sequence[Looked], waiting: int, expected: Range) -> list[Finding]:
    """Whether to go on, with so many pieces `waiting` and the share of clean ones that was `expected` of the setting.

    The first piece speaks for itself. Of more, it is said where even the lower end of what was expected would hardly
    (one time in twenty) let so many fail: exact binomial tail.
    """
    failed = [x for x in looked if x.rating is not Rating.CLEAN]
    if not waiting or not failed:
        return []
    if len(looked) == 1:
        return [_first(looked[0])]
    chance = float(bdtr(len(looked) - len(failed), len(looked), expected.low))
    if chance >= _UNLIKELY:
        return []
    numbers = ", ".join(str(x.number) for x in failed)
    return [
        Finding(
            FindingCode.BATCH_FAILS,
            Severity.WARN,
            f"{len(failed)} of {len(looked)} pieces failed ({numbers}); even {100 * expected.low:.0f} of 100 clean "
            f"would bring that {100 * chance:.2g} times in 100.",
            fix="Burn no other before you know why: something is not as it was on the test grid.",
            figures={"failed": len(failed), "looked": len(looked), "chance": chance},
            source="own-estimate",
        )
    ]


def _first(piece: Looked) -> Finding:
    came = f"came out {piece.rating}" if piece.rating else "was spoilt"
    return Finding(
        FindingCode.FIRST_FAILED,
        Severity.WARN,
        f"The first piece that was looked at, number {piece.number}, {came}.",
        fix="Burn no other before you know why.",
        figures={"number": piece.number},
        source="common-practice",
    )
