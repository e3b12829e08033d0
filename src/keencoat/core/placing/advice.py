"""What there is to say of a round piece before it turns: level, seam, how sure its turn is, how wide a mark may be."""

from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Finding, Severity
from keencoat.core.piece import Wall
from keencoat.core.placing.beam import Beam
from keencoat.core.placing.fixed_head import FixedHead
from keencoat.core.placing.level import Levelling
from keencoat.core.placing.turning import TurnCalibration
from keencoat.core.placing.wall import Band
from keencoat.core.toolpath import Strain

_NEAR_SEAM_MM = 5.0
_SEAM_SHOWS_MM = 0.3
_UNLIKE = 0.015


def wall_findings(wall: Wall, told: tuple[float, float]) -> list[Finding]:
    """Whether the wall is as the piece is said to be: its diameters at the wide and at the narrow end, mm."""
    ends = sorted((wall.diameter_mm(0), wall.diameter_mm(wall.length_mm)))
    said = sorted(told)
    worst = max(range(2), key=lambda n: abs(ends[n] / said[n] - 1))
    if abs(ends[worst] / said[worst] - 1) < _UNLIKE:
        return []
    return [
        Finding(
            FindingCode.NOT_AS_TOLD,
            Severity.WARN,
            f"Measured it is Ø {ends[1]:.1f} to {ends[0]:.1f} mm; it is said to have {said[1]:g} and {said[0]:g}.",
            fix="Placing goes by what was measured. Mend the piece's size, or measure again.",
            figures={"wide_mm": ends[1], "narrow_mm": ends[0]},
            source="own-estimate",
        )
    ]


def stale_finding(why: str) -> Finding:
    """What was told can no longer be so, because the piece or its artwork was changed since."""
    return Finding(
        FindingCode.PLACING_STALE,
        Severity.WARN,
        f"What was told here no longer fits. {why}",
        fix="Look it through: what you change now is kept with the rest as it stands here.",
    )


def level_findings(level: Levelling, beam: Beam) -> list[Finding]:
    """Whether a mark runs out of focus unless its wall is brought level."""
    if level.rise_mm <= 2 * beam.depth_mm:
        return []
    return [
        Finding(
            FindingCode.NOT_LEVEL,
            Severity.WARN,
            f"Unlevelled, the wall rises {level.rise_mm:.1f} mm along the mark; the beam keeps its width over "
            f"{2 * beam.depth_mm:.1f} mm.",
            fix=f"Raise the narrow end: {level.shim_mm:.1f} mm under its support, {level.angle_deg:.1f}°.",
            figures={"rise_mm": level.rise_mm, "depth_mm": 2 * beam.depth_mm},
            source="iso11146" if beam.measured else "own-estimate",
        )
    ]


def band_findings(band: Band) -> list[Finding]:
    """Whether the seam falls into the mark, or close to it."""
    if band.to_seam_mm > _NEAR_SEAM_MM:
        return []
    if band.meets_itself:
        words, fix = "The mark goes round and over itself.", "Make it narrower than the wall is round."
    else:
        words = f"The seam is {max(band.to_seam_mm, 0):.1f} mm from the mark's side."
        fix = "Turn the mark away from the seam, or make it narrower."
    return [
        Finding(
            FindingCode.SEAM_IN_MARK,
            Severity.STOP if band.meets_itself else Severity.WARN,
            words,
            fix=fix,
            figures={"degrees": band.degrees, "to_seam_mm": band.to_seam_mm},
            source="common-practice",
        )
    ]


def turn_findings(calibration: TurnCalibration | None, round_mm: float) -> list[Finding]:
    """Whether the turn is known well enough for a mark that goes all round."""
    if calibration is None:
        doubt, words = round_mm, "Nobody has measured how far this device turns."
    else:
        turn = calibration.mm_per_turn
        doubt = (turn.high - turn.low) / 2 / turn.mid * round_mm
        words = f"Once round, the turn may be off by {doubt:.1f} mm."
    if doubt <= _SEAM_SHOWS_MM:
        return []
    return [
        Finding(
            FindingCode.TURN_UNSURE,
            Severity.NOTE if calibration else Severity.WARN,
            words,
            fix="Burn two ticks several turns apart on a spare, and measure what is left between them.",
            figures={"doubt_mm": doubt},
            source="own-estimate",
        )
    ]


def strain_findings(strain: Strain | None, clean: tuple[float, float]) -> list[Finding]:
    """Whether the machine can burn this wall at the locked setting; `clean`: shares of clean pieces at that setting
    and at the one that fits."""
    if strain is None:
        return []
    fits = strain.fits
    fix = "Take a turning device that suits this diameter, or lock another setting."
    if fits is not None:
        fix = (
            f"{fits.power_pct:.3g} % at {fits.speed_mm_s:.3g} mm/s puts the same energy on the piece and fits: "
            f"{100 * clean[1]:.0f} in 100 pieces clean, {100 * clean[0]:.0f} at the locked setting."
        )
    return [
        Finding(
            FindingCode.DEVICE_STRAINED,
            Severity.STOP,
            strain.words,
            fix=fix,
            figures={"speed_mm_s": fits.speed_mm_s, "power_pct": fits.power_pct} if fits else {},
            source="own-estimate",
        )
    ]


def head_findings(head: FixedHead, width_mm: float) -> list[Finding]:
    """Whether art of this width, straight across, is more than a fixed head can mark."""
    if width_mm <= head.widest_mm:
        return []
    words = (
        f"{width_mm:.0f} mm is wider than the {head.widest_mm:.0f} mm that come out clean here; the sides would be "
        f"{head.fails_as.value}."
        if head.widest_mm
        else "At this setting not even the ridge comes out clean often enough."
    )
    return [
        Finding(
            FindingCode.HEAD_TOO_NARROW,
            Severity.WARN,
            words,
            fix="Make it narrower, burn it in strips and turn the piece between, or lock a setting with more margin.",
            figures={"widest_mm": head.widest_mm, "width_mm": width_mm},
            source="own-estimate",
        )
    ]
