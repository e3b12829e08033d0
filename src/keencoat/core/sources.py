"""Where values come from. Each key stands in docs/sources.bib (a test compares the two)."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Generic, TypeVar

from keencoat.core.errors import require_known

T = TypeVar("T")


class SourceKind(StrEnum):
    """How far a value can be trusted, from a published standard down to our own estimate."""

    STANDARD = "standard"
    HANDBOOK = "handbook"
    PAPER = "paper"
    COMMON_PRACTICE = "common practice"
    ESTIMATE = "estimate"


@dataclass(frozen=True)
class Source:
    """A place that values come from, in the words people see beside the value."""

    key: str
    kind: SourceKind
    text: str


SOURCES: dict[str, Source] = {
    s.key: s
    for s in (
        Source(
            "common-practice",
            SourceKind.COMMON_PRACTICE,
            "Common practice among makers; no published source.",
        ),
        Source("own-estimate", SourceKind.ESTIMATE, "Our own estimate, stated wide; your log corrects it."),
        Source("carslaw1959", SourceKind.HANDBOOK, "Carslaw & Jaeger, Conduction of Heat in Solids, 1959."),
        Source("iso11146", SourceKind.STANDARD, "ISO 11146-1, beam widths (definitions, from memory)."),
        Source("iec60825", SourceKind.STANDARD, "IEC 60825-1:2014, exposure limits (from memory)."),
        Source("iso2808", SourceKind.STANDARD, "ISO 2808, film thickness; volume solids (from memory)."),
        Source("refractiveindex", SourceKind.HANDBOOK, "refractiveindex.info optical data, CC0."),
        Source(
            "polymer-smoke",
            SourceKind.COMMON_PRACTICE,
            "Laser-safety practice for plastics; no single source.",
        ),
        Source("mackay1992", SourceKind.PAPER, "MacKay, Neural Computation 4:415, 1992."),
        Source("geweke1989", SourceKind.PAPER, "Geweke, Econometrica 57:1317, 1989 (importance sampling)."),
    )
}


@dataclass(frozen=True)
class Cited(Generic[T]):
    """A value together with the key of its source."""

    value: T
    source: str

    def __post_init__(self) -> None:
        require_known(self.source, SOURCES, "source")


def common_practice(value: T) -> Cited[T]:
    """A value that makers report and no publication backs."""
    return Cited(value, "common-practice")


def own_estimate(value: T) -> Cited[T]:
    """A value that we estimated ourselves."""
    return Cited(value, "own-estimate")
