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
            "kingery1955",
            SourceKind.PAPER,
            "Kingery, J. Am. Ceram. Soc. 38:3, 1955, thermal shock (from memory); ± 50 % as a prediction.",
        ),
        Source(
            "incropera",
            SourceKind.HANDBOOK,
            "Incropera & DeWitt, Fundamentals of Heat and Mass Transfer (from memory).",
        ),
        Source("lax1977", SourceKind.PAPER, "Lax, J. Appl. Phys. 48:3919, 1977 (heating by a Gaussian beam)."),
        Source("cline1977", SourceKind.PAPER, "Cline & Anthony, J. Appl. Phys. 48:3895, 1977 (a moving beam)."),
        Source(
            "jee1988", SourceKind.PAPER, "Jee, Becker & Walser, J. Opt. Soc. Am. B 5:648, 1988 (passes; from memory)."
        ),
        Source("iso11146", SourceKind.STANDARD, "ISO 11146-1, beam widths (definitions, from memory)."),
        Source("iec60825", SourceKind.STANDARD, "IEC 60825-1:2014, exposure limits (from memory)."),
        Source("iso2808", SourceKind.STANDARD, "ISO 2808, film thickness (from memory)."),
        Source("iso3233", SourceKind.STANDARD, "ISO 3233, volume solids of paints (from memory)."),
        Source("iso13660", SourceKind.STANDARD, "ISO/IEC 13660, raggedness and blurriness of edges (from memory)."),
        Source("refractiveindex", SourceKind.HANDBOOK, "refractiveindex.info optical data, CC0."),
        Source(
            "polymer-smoke",
            SourceKind.COMMON_PRACTICE,
            "Laser-safety practice for plastics; no single source.",
        ),
        Source("liu1982", SourceKind.PAPER, "Liu, Optics Letters 7:196, 1982 (widths of marks and the spot)."),
        Source(
            "evangelidis2008", SourceKind.PAPER, "Evangelidis & Psarakis, IEEE TPAMI 30:1858, 2008 (pictures drawn on)."
        ),
        Source("gander1994", SourceKind.PAPER, "Gander, Golub & Strebel, BIT 34:558, 1994 (circles through points)."),
        Source("umeyama1991", SourceKind.PAPER, "Umeyama, IEEE TPAMI 13:376, 1991 (shift and turn between points)."),
        Source("kasa1976", SourceKind.PAPER, "Kåsa, IEEE TIM 25:8, 1976 (circles through points)."),
        Source("fieller1954", SourceKind.PAPER, "Fieller, JRSS B 16:175, 1954 (range of a ratio)."),
        Source("delmoral2006", SourceKind.PAPER, "Del Moral, Doucet & Jasra, JRSS B 68:411, 2006 (sequential draws)."),
        Source("murray2010", SourceKind.PAPER, "Murray, Adams & MacKay, AISTATS 2010 (elliptical slices)."),
        Source("raiffa1961", SourceKind.HANDBOOK, "Raiffa & Schlaifer, Applied Statistical Decision Theory, 1961."),
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
        Source("wmo1996", SourceKind.HANDBOOK, "WMO guide to instruments, no. 8, 1996: Magnus' formula (from memory)."),
        Source("iso8502-4", SourceKind.STANDARD, "ISO 8502-4: surface 3 K above the dew point (from memory)."),
        Source("perry", SourceKind.HANDBOOK, "Perry's Handbook: vapour pressures of solvents (checked by test)."),
        Source("beer1852", SourceKind.PAPER, "Beer, Annalen der Physik und Chemie 86:78, 1852 (Beer–Lambert law)."),
        Source("sharma2005", SourceKind.PAPER, "Sharma, Wu & Dalal, Color Res. Appl. 30:21, 2005 (ΔE2000)."),
        Source(
            "lechatelier1891",
            SourceKind.PAPER,
            "Le Chatelier, Annales des Mines 19:388, 1891 (mixed vapours; from memory).",
        ),
        Source("bayer1973", SourceKind.PAPER, "Bayer, IEEE Int. Conf. Communications 1973 (ordered dots)."),
        Source("floyd1976", SourceKind.PAPER, "Floyd & Steinberg, Proc. SID 17:75, 1976 (error diffusion)."),
        Source("jarvis1976", SourceKind.PAPER, "Jarvis, Judice & Ninke, Comput. Graph. Image Process. 5:13, 1976."),
        Source("stucki1981", SourceKind.PAPER, "Stucki, IBM Research Report RZ1060, 1981 (from memory)."),
        Source("ulichney1987", SourceKind.HANDBOOK, "Ulichney, Digital Halftoning, 1987 (kernels; from memory)."),
        Source("murray1936", SourceKind.PAPER, "Murray & Davies, J. Franklin Inst. 221:721, 1936 (dot gain)."),
        Source("yule1951", SourceKind.PAPER, "Yule & Nielsen, Proc. TAGA 3:65, 1951 (light under dots; from memory)."),
        Source("hershey1967", SourceKind.PAPER, "Hershey, Calligraphy for Computers, 1967 (from memory)."),
        Source("rs274ngc", SourceKind.STANDARD, "RS274/NGC, NISTIR 6556, 2000 (words of G-code)."),
        Source("bigun1987", SourceKind.PAPER, "Bigün & Granlund, ICCV 1987 (structure tensor)."),
        Source("iec60079-20-1", SourceKind.STANDARD, "IEC 60079-20-1:2010, flash points and explosive limits."),
        Source("wilson1927", SourceKind.PAPER, "Wilson, JASA 22:209, 1927 (interval of a share)."),
        Source("mitchell1988", SourceKind.PAPER, "Mitchell & Beauchamp, JASA 83:1023, 1988 (spike and slab)."),
        Source("gelman2013", SourceKind.HANDBOOK, "Gelman et al., Bayesian Data Analysis, 2013."),
        Source("cox1958", SourceKind.PAPER, "Cox, Biometrika 45:562, 1958 (logistic calibration, from memory)."),
        Source("platt1999", SourceKind.PAPER, "Platt, Advances in Large Margin Classifiers, 1999 (from memory)."),
        Source("lange1989", SourceKind.PAPER, "Lange, Little & Taylor, JASA 84:881, 1989 (robust t, from memory)."),
        Source("rasmussen2006", SourceKind.HANDBOOK, "Rasmussen & Williams, Gaussian Processes, 2006 (from memory)."),
        Source("matas2002", SourceKind.PAPER, "Matas, Chum, Urban & Pajdla, BMVC 2002 (maximally stable regions)."),
        Source("hartley2004", SourceKind.HANDBOOK, "Hartley & Zisserman, Multiple View Geometry, 2004 (from memory)."),
        Source("brown1966", SourceKind.PAPER, "Brown, Photogrammetric Engineering 32:444, 1966 (bend of a lens)."),
        Source(
            "huber1964", SourceKind.PAPER, "Huber, Annals of Mathematical Statistics 35:73, 1964 (lines past outliers)."
        ),
        Source("good1950", SourceKind.HANDBOOK, "Good, Probability and the Weighing of Evidence, 1950 (weights)."),
        Source("porter1984", SourceKind.PAPER, "Porter & Duff, SIGGRAPH 18:253, 1984 (compositing; from memory)."),
        Source("vatti1992", SourceKind.PAPER, "Vatti, Commun. ACM 35:56, 1992 (polygon clipping; from memory)."),
        Source("shannon1948", SourceKind.PAPER, "Shannon, Bell Syst. Tech. J. 27:379, 1948 (information)."),
        Source("kish1965", SourceKind.HANDBOOK, "Kish, Survey Sampling, 1965 (design effect of alike cells)."),
        Source("iec61966-2-1", SourceKind.STANDARD, "IEC 61966-2-1, the tone curve of sRGB."),
        Source("iso15948", SourceKind.STANDARD, "ISO/IEC 15948, PNG and its resolution."),
        Source("iso80000-3", SourceKind.STANDARD, "ISO 80000-3, space and time."),
        Source("astm-d7091", SourceKind.STANDARD, "ASTM D7091, dry film on metal (from memory)."),
        Source("astm-d4414", SourceKind.STANDARD, "ASTM D4414, wet film by notch gauge (from memory)."),
        Source("cie1976", SourceKind.STANDARD, "CIE 1976, lightness L* and colour spaces (CIE 15)."),
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
