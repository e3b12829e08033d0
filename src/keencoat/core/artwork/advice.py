"""What is to be said of an artwork before it is burned."""

import math
from collections.abc import Sequence

import numpy as np

from keencoat.core.artwork.engraved import MadeStrokes
from keencoat.core.artwork.limits import Detail
from keencoat.core.artwork.looks import ProcessLook
from keencoat.core.artwork.made import Lines, off_room_mm
from keencoat.core.artwork.names import NameList, SetName
from keencoat.core.artwork.picture import Picture
from keencoat.core.artwork.screen import Screen
from keencoat.core.artwork.spec import ArtSpec, height_per_width
from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Finding, Severity
from keencoat.core.quantities import Setting

_SEE_THROUGH = 0.005
_COARSE = 0.6
_LARGER = 1.05
_SLOW, _SHORT = 0.25, 0.25


def picture_findings(picture: Picture, spec: ArtSpec, lines: Lines, look: ProcessLook) -> list[Finding]:
    """What is to be said of a picture and its place."""
    found = place_findings(spec, height_per_width(picture, spec), lines)
    if look.one_tone:
        said = (
            "It has one tone now." if spec.screen is Screen.THRESHOLD else "It has greys now: burn a small one first."
        )
        found.append(
            Finding(FindingCode.ART_ONE_TONE, Severity.NOTE, f"{look.one_tone} {said}", source="common-practice")
        )
    if picture.see_through_share > _SEE_THROUGH:
        share = 100 * picture.see_through_share
        found.append(
            Finding(
                FindingCode.ART_SEE_THROUGH,
                Severity.NOTE,
                f"{share:.0f} % of the picture is see-through and stays unmarked: the bare piece is its ground.",
                figures={"share_pct": share},
            )
        )
    crop = spec.tone.crop
    points, dots = picture.light.shape[1] * (crop.right - crop.left), spec.placement.width_mm / lines.pitch_mm
    if points < _COARSE * dots:
        found.append(
            Finding(
                FindingCode.ART_COARSE,
                Severity.NOTE,
                f"The picture is {points:.0f} points wide, and {dots:.0f} dots are burned over it: it will look soft.",
                fix="Bring a larger picture, or burn it smaller.",
                figures={"points": points, "dots": dots},
            )
        )
    return found


def place_findings(spec: ArtSpec, height_per_width: float, lines: Lines) -> list[Finding]:
    """Whether artwork of these proportions lies on the coat."""
    off = off_room_mm(spec.placement.box(height_per_width), lines.room)
    if off <= max(0.01, spec.bleed_mm):
        return []
    return [
        Finding(
            FindingCode.ART_OFF_COAT,
            Severity.WARN,
            f"It reaches {off:.1f} mm past the coat; what lies there is not burned.",
            fix="Make it smaller, or move it.",
            figures={"off_mm": off},
        )
    ]


def names_findings(source: NameList, names: Sequence[SetName], pieces: int) -> list[Finding]:
    """What is to be said of a list: who does not fit, and whether there is a piece for each."""
    found = []
    lost = [n for n in names if n.ink is None]
    if lost:
        said = "; ".join(f"row {n.name.row} “{n.name.first}”: {n.why}" for n in lost[:8])
        more = f" And {len(lost) - 8} more." if len(lost) > 8 else ""
        found.append(
            Finding(
                FindingCode.ART_NO_FIT,
                Severity.WARN,
                f"{len(lost)} of {len(names)} names are left out. {said}{more}",
                fix="Shorten them, put part of them in the second column, or let each have its own size.",
                figures={"names": float(len(lost))},
            )
        )
    if len(names) != pieces:
        found.append(
            Finding(
                FindingCode.ART_NOT_ALL,
                Severity.NOTE,
                f"The list has {len(names)} names, the job {pieces} pieces.",
                figures={"names": float(len(names)), "pieces": float(pieces)},
            )
        )
    if source.encoding == "cp1252":
        found.append(
            Finding(
                FindingCode.ART_ENCODING,
                Severity.NOTE,
                "The list was not in UTF-8 and was read as Western European: look at letters with accents.",
            )
        )
    return found


def made_findings(fill_mm: float, patch_mm: float, detail: Detail) -> list[Finding]:
    """What is to be said of the dots: fills that nobody has tested, lines that the setting cannot hold. `patch_mm` is
    the largest patch that the window was read on, 0 if none."""
    found = []
    if patch_mm and fill_mm > _LARGER * patch_mm:
        found.append(
            Finding(
                FindingCode.ART_LARGE_FILL,
                Severity.WARN,
                f"The largest fill here is {fill_mm:.0f} mm wide; the window was read on patches of {patch_mm:.0f} mm.",
                fix="Burn a confirming patch of this size on a spare: large fills gather heat.",
                figures={"fill_mm": fill_mm, "patch_mm": patch_mm},
                source="common-practice",
            )
        )
    if detail.line_mm == 0:
        found.append(
            Finding(
                FindingCode.ART_LINE_LOST,
                Severity.NOTE,
                "A single line is not expected to mark at this setting: hairlines and lone dots may be lost.",
                source="liu1982",
            )
        )
    return found


def text_findings(capital_mm: float, least_mm: float) -> list[Finding]:
    """Whether letters of that height can be read."""
    if capital_mm >= least_mm:
        return []
    return [
        Finding(
            FindingCode.ART_SMALL_LETTERS,
            Severity.WARN,
            f"Its capitals are {capital_mm:.2g} mm high; under {least_mm:.2g} mm they cannot be read.",
            fix="Make it larger, or break it into more lines.",
            figures={"capital_mm": capital_mm, "least_mm": least_mm},
        )
    ]


def engraved_findings(made: MadeStrokes, setting: Setting, accel_mm_s2: float, locked: bool) -> list[Finding]:
    """What is to be said of lines that are drawn at a setting: whether it is `locked` for fine strokes or filled art's,
    and whether the head reaches its speed on them."""
    found = []
    sides = np.concatenate([np.hypot(*np.diff(np.array(stroke), axis=0).T) for stroke in made.strokes])
    # From rest to rest the head gets up to √(a·l).
    slow = np.sqrt(accel_mm_s2 * sides) < setting.speed_mm_s
    share = float(sides[slow].sum() / sides.sum())
    if share > _SLOW:
        reached = math.sqrt(accel_mm_s2 * float(np.quantile(sides, _SHORT)))
        found.append(
            Finding(
                FindingCode.ART_STROKES_SLOW,
                Severity.NOTE,
                f"{100 * share:.0f} % of these lines are too short for the head to reach {setting.speed_mm_s:g} mm/s "
                "between two corners: its power follows the speed, and they may come out fainter than long ones.",
                fix=f"Test the fine strokes at about {reached:.0f} mm/s, or make it larger.",
                figures={"share_pct": 100 * share, "reached_mm_s": reached},
            )
        )
    if locked:
        return found
    return [
        *found,
        Finding(
            FindingCode.ART_STROKES_UNTESTED,
            Severity.WARN,
            "No setting is locked for fine strokes: these lines are drawn at the one for filled art "
            f"({setting.power_pct:g} %, {setting.speed_mm_s:g} mm/s), where neighbours warm each other."
            " They may be faint.",
            fix="Rate the fine strokes of a grid, and lock a setting for them in Window.",
            source="common-practice",
        ),
    ]


def setting_changed(was: tuple[int, Setting], now: tuple[int, Setting]) -> Finding:
    """What was last taken was made for another version of the setting than is locked now."""
    before, after = (f"version {number} ({s.power_pct:g} %, {s.speed_mm_s:g} mm/s)" for number, s in (was, now))
    return Finding(
        FindingCode.ART_SETTING_CHANGED,
        Severity.WARN,
        f"It was last taken for setting {before}; it is made for {after} now.",
        fix="Take the files again; what was taken before stays as evidence.",
        figures={"was": float(was[0]), "now": float(now[0])},
    )
