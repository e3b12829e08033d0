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
    OWN = "own record"


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
        Source(
            "hasselman1969",
            SourceKind.PAPER,
            "Hasselman, J. Am. Ceram. Soc. 52:600, 1969, thermal shock (from memory); ± 50 % as a prediction.",
        ),
        Source("iso11146", SourceKind.STANDARD, "ISO 11146-1, beam widths (definitions, from memory)."),
        Source("iec60825", SourceKind.STANDARD, "IEC 60825-1:2014, exposure limits (from memory)."),
        Source("iso2808", SourceKind.STANDARD, "ISO 2808, film thickness; volume solids (from memory)."),
        Source("refractiveindex", SourceKind.HANDBOOK, "refractiveindex.info optical data, CC0."),
        Source(
            "polymer-smoke",
            SourceKind.COMMON_PRACTICE,
            "Laser-safety practice for plastics; no single source.",
        ),
        Source("liu1982", SourceKind.PAPER, "Liu, Optics Letters 7:196, 1982 (widths of marks and the spot)."),
        Source("fieller1954", SourceKind.PAPER, "Fieller, JRSS B 16:175, 1954 (range of a ratio)."),
        Source("delmoral2006", SourceKind.PAPER, "Del Moral, Doucet & Jasra, JRSS B 68:411, 2006 (sequential draws)."),
        Source("murray2010", SourceKind.PAPER, "Murray, Adams & MacKay, AISTATS 2010 (elliptical slices)."),
        Source("krause2008", SourceKind.PAPER, "Krause, Singh & Guestrin, JMLR 9:235, 2008 (greedy designs)."),
        Source(
            "crc-densities", SourceKind.HANDBOOK, "CRC Handbook, densities at 20 °C (from memory, checked by test)."
        ),
        Source(
            "spray-transfer",
            SourceKind.HANDBOOK,
            "Industrial practice: spray cans and guns put 25 to 40 % on the piece (from memory).",
        ),
        Source("iso3270", SourceKind.STANDARD, "ISO 3270, paints are tested at 23 °C and 50 % humidity (from memory)."),
        Source("ashrae2017", SourceKind.HANDBOOK, "ASHRAE Handbook Fundamentals 2017, ch. 1, psychrometrics."),
        Source("iso8502-4", SourceKind.STANDARD, "ISO 8502-4: surface 3 K above the dew point (from memory)."),
        Source("perry", SourceKind.HANDBOOK, "Perry's Handbook: vapour pressures of solvents (checked by test)."),
        Source("beer1852", SourceKind.PAPER, "Beer, Annalen der Physik 78, 1852 (Beer–Lambert law)."),
        Source("bigun1987", SourceKind.PAPER, "Bigün & Granlund, ICCV 1987 (structure tensor)."),
        Source("iec60079-20-1", SourceKind.STANDARD, "IEC 60079-20-1:2010, flash points and explosive limits."),
        Source("wilson1927", SourceKind.PAPER, "Wilson, JASA 22:209, 1927 (interval of a share)."),
        Source("kish1965", SourceKind.HANDBOOK, "Kish, Survey Sampling, 1965 (design effect of alike cells)."),
        Source("own-record", SourceKind.OWN, "Your own workshop's figure."),
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
