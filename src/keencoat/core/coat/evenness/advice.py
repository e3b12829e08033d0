"""What to do about a measured coat: go on, one more coat, mend a place, or wash and start again."""

import math

import numpy as np

from keencoat.core.coat.evenness.faults import Fault, FaultKind
from keencoat.core.coat.evenness.film import LightWay
from keencoat.core.coat.evenness.measure import ENOUGH_CONTRAST, CoatReading
from keencoat.core.coat.opacity import transmitted
from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Finding, Severity
from keencoat.core.vision import are_streaks

EVEN_CV, UNEVEN_CV = 0.12, 0.20
"""Below the first a coat varies no more than a careful shop's; above the second the mark shows it: own estimates."""

_MANY_PINHOLES, _SOME_PINHOLES = 25, 4
_LEAST_SHARE = 0.004
_THIN_REFLECTED = 1.0
_MOST_BLIND = 0.01


def advise_coat(reading: CoatReading, wanted_density: float | None, face_name: str = "piece") -> list[Finding]:
    """Findings on a coat, the gravest first; the only one on a good coat is `coat-even`.

    `wanted_density` is the OD the coat should have, where light through it tells; None where it does not.
    """
    faults = {kind: [f for f in reading.faults if f.kind is kind] for kind in FaultKind}
    area = float(np.isfinite(reading.squares).sum())
    findings = [
        *_cracks(faults[FaultKind.CRACK]),
        *_bare(faults[FaultKind.BARE], reading),
        *([] if reading.hides_all else _pooled(faults[FaultKind.POOLED], area, reading)),
        *_dark_enough(reading, wanted_density),
        *_thin(faults[FaultKind.THIN], area, reading),
        *_pinholes(faults[FaultKind.PINHOLE]),
        *_shine(faults[FaultKind.SHINE], area),
        *([] if reading.hides_all or reading.contrast < ENOUGH_CONTRAST[reading.reference] else _streaked(reading)),
        *_blind(reading),
    ]
    if not findings and reading.hides_all:
        findings.append(_hidden(reading))
    if not reading.tells_film and not (reading.hides_all and findings):
        findings.append(_untold(reading, not findings))
    if not findings and reading.cv > EVEN_CV:
        findings.append(_uneven(reading))
    if not findings:
        findings.append(
            Finding(
                FindingCode.COAT_EVEN,
                Severity.NOTE,
                f"Even: the film varies by {100 * reading.cv:.0f} %.",
                fix=f"Go on; this {face_name} may be burned once it is dry.",
                figures={"cv": reading.cv},
                source="own-estimate",
            )
        )
    order = [Severity.STOP, Severity.WARN, Severity.NOTE]
    return sorted(findings, key=lambda f: order.index(f.severity))


def place_words(fault: Fault, reading: CoatReading) -> str:
    """Where on the face, as one would point at it."""
    x = (fault.x_mm + fault.width_mm / 2) / reading.face.unrolled_mm
    y = (fault.y_mm + fault.height_mm / 2) / reading.face.height_mm
    row = "top" if y < 1 / 3 else "bottom" if y > 2 / 3 else ""
    column = "left" if x < 1 / 3 else "right" if x > 2 / 3 else ""
    if row and column:
        return f"{row} {column} corner"
    return f"{row or column} edge" if row or column else "middle"


def _places(faults: list[Fault], reading: CoatReading) -> str:
    largest = sorted(faults, key=lambda f: -f.area_mm2)[:3]
    return ", ".join(dict.fromkeys(place_words(f, reading) for f in largest))


def _cracks(cracks: list[Fault]) -> list[Finding]:
    length = sum(math.hypot(f.width_mm, f.height_mm) for f in cracks)
    if length < 8:
        return []
    return [
        Finding(
            FindingCode.COAT_CRACKED,
            Severity.STOP,
            f"Cracked: about {length:.0f} mm of cracks let the beam through.",
            fix="Wash it off and start again with thinner coats, each dry before the next; less heat.",
            figures={"length_mm": length},
            source="common-practice",
        )
    ]


def _bare(patches: list[Fault], reading: CoatReading) -> list[Finding]:
    if not patches:
        return []
    area = sum(f.area_mm2 for f in patches)
    return [
        Finding(
            FindingCode.COAT_BARE,
            Severity.STOP,
            f"Touched or shed: {area:.0f} mm² nearly bare, {_places(patches, reading)}.",
            fix=f"Put one more coat on, and mind the {_places(patches, reading)}; hold it by the edges.",
            figures={"area_mm2": area},
            source="common-practice",
        )
    ]


def _pooled(pools: list[Fault], area: float, reading: CoatReading) -> list[Finding]:
    pooled = sum(f.area_mm2 for f in pools)
    if pooled < max(8.0, _LEAST_SHARE * area):
        return []
    share = pooled / area
    redo = share > 0.05
    return [
        Finding(
            FindingCode.COAT_POOLED,
            Severity.STOP if redo else Severity.WARN,
            f"Pooled: {pooled:.0f} mm² lie 1.5 times as thick or more, {_places(pools, reading)}.",
            fix="Wash it off and start again with less at once: too thick shields the piece, and no number of passes "
            "mends that."
            if redo
            else "Keep the mark off that place, or wash and start again with less at once.",
            figures={"area_mm2": pooled, "share": share},
            source="common-practice",
        )
    ]


def _dark_enough(reading: CoatReading, wanted_density: float | None) -> list[Finding]:
    if not reading.told:
        return []
    signal = reading.mean_signal
    if reading.way is LightWay.BACK:
        if signal >= _THIN_REFLECTED:
            return []
        return [
            Finding(
                FindingCode.COAT_THIN_ALL,
                Severity.WARN,
                f"Thin all over: {100 * math.exp(-signal):.0f} % of the ground still shows through.",
                fix="One more coat, crossed at 90°.",
                figures={"showing": math.exp(-signal)},
                source="beer1852",
            )
        ]
    if wanted_density is None or signal >= 0.9 * wanted_density:
        return []
    return [
        Finding(
            FindingCode.COAT_THIN_ALL,
            Severity.WARN,
            f"Not dark enough: optical density {signal:.2f}, wanted {wanted_density:g}; "
            f"{100 * transmitted(signal):.0f} % of the light comes through.",
            fix="One more coat, crossed at 90°, then look again.",
            figures={"density": signal, "wanted": wanted_density},
            source="beer1852",
        )
    ]


def _thin(spots: list[Fault], area: float, reading: CoatReading) -> list[Finding]:
    thin = sum(f.area_mm2 for f in spots)
    if thin < max(8.0, _LEAST_SHARE * area):
        return []
    return [
        Finding(
            FindingCode.COAT_THIN_SPOT,
            Severity.WARN,
            f"Thin spots: {thin:.0f} mm² below 70 % of the film, {_places(spots, reading)}.",
            fix=f"Re-coat the {_places(spots, reading)}, thinly, and let it dry; or one more coat, crossed at 90°.",
            figures={"area_mm2": thin},
            source="common-practice",
        )
    ]


def _pinholes(holes: list[Fault]) -> list[Finding]:
    if len(holes) < _SOME_PINHOLES:
        return []
    many = len(holes) > _MANY_PINHOLES
    return [
        Finding(
            FindingCode.COAT_PINHOLES,
            Severity.WARN,
            f"{len(holes)} pinholes, each lets the beam through.",
            fix="Wash, degrease and start again: grease or dust keeps the coat off."
            if many
            else "One thin coat more, crossed at 90°, closes them.",
            figures={"count": float(len(holes)), "area_mm2": sum(f.area_mm2 for f in holes)},
            source="common-practice",
        )
    ]


def _shine(shine: list[Fault], area: float) -> list[Finding]:
    open_mm2 = sum(f.area_mm2 for f in shine)
    if open_mm2 < max(4.0, 0.002 * area):
        return []
    return [
        Finding(
            FindingCode.COAT_SHINE,
            Severity.WARN,
            f"Shine left on {open_mm2:.0f} mm²: the glaze still looks through.",
            fix="One more mist coat there, until no shine is left.",
            figures={"area_mm2": open_mm2},
            source="common-practice",
        )
    ]


def _streaked(reading: CoatReading) -> list[Finding]:
    streaks = reading.streaks
    if not are_streaks(streaks):
        return []
    every = f", one every {streaks.spacing_mm:.1f} mm" if streaks.spacing_mm else ""
    across = (streaks.direction_deg + 90) % 180
    return [
        Finding(
            FindingCode.COAT_STREAKED,
            Severity.WARN,
            f"Streaked at {streaks.direction_deg:.0f}°{every}: the film varies by {100 * streaks.depth:.0f} % across.",
            fix=f"One more coat, crossed: at {across:.0f}°. And scan across the streaks, not along them.",
            figures={"direction_deg": streaks.direction_deg, "spacing_mm": streaks.spacing_mm, "depth": streaks.depth},
            source="bigun1987",
        )
    ]


def _blind(reading: CoatReading) -> list[Finding]:
    if reading.blind_share < _MOST_BLIND:
        return []
    return [
        Finding(
            FindingCode.COAT_BLIND,
            Severity.NOTE,
            f"{100 * reading.blind_share:.0f} % of it is blacker than this photo can tell: the film varies by at least "
            f"{100 * reading.cv:.0f} %.",
            fix="Expose longer, or hold it against a brighter field, and measure again.",
            figures={"share": reading.blind_share},
            source="own-estimate",
        )
    ]


def _hidden(reading: CoatReading) -> Finding:
    return Finding(
        FindingCode.COAT_HIDES,
        Severity.NOTE,
        f"It hides the ground: only {100 * math.exp(-reading.mean_signal):.0f} % of it shows, and no spot is open.",
        fix="Go on. How even so dark a layer is, no photo in flat light can tell.",
        figures={"showing": math.exp(-reading.mean_signal)},
        source="own-estimate",
    )


def _untold(reading: CoatReading, clear: bool) -> Finding:
    dark = reading.way is LightWay.THROUGH
    fix = (
        "Photograph the bare piece too, from the same place with the same exposure."
        if dark
        else "Weigh the piece before and after coating: light back tells faults and, of a dark coat, whether it hides."
    )
    return Finding(
        FindingCode.COAT_UNTOLD,
        Severity.NOTE if not clear else Severity.WARN,
        f"{'No fault is seen, but this' if clear else 'This'} picture cannot tell how even the film is, only where "
        "it differs.",
        fix=fix,
        source="own-estimate",
    )


def _uneven(reading: CoatReading) -> Finding:
    grave = reading.cv > UNEVEN_CV
    return Finding(
        FindingCode.COAT_UNEVEN,
        Severity.WARN if grave else Severity.NOTE,
        f"Uneven: the film varies by {100 * reading.cv:.0f} %, with no one place to blame.",
        fix="One more thin coat, crossed at 90°, evens it."
        if grave
        else "It will do where the window is wide; one more thin coat, crossed at 90°, evens it.",
        figures={"cv": reading.cv},
        source="own-estimate",
    )
