"""How a round piece turns, or what a fixed head can mark of it."""

import math
from dataclasses import dataclass

from keencoat.core.findings import Finding
from keencoat.core.piece import RoundPiece, Wall
from keencoat.core.placing import (
    ArtOnWall,
    ArtWay,
    Band,
    Beam,
    Distortion,
    FixedHead,
    HeightRoom,
    Levelling,
    StandsInFor,
    Support,
    TaperedWall,
    TurningDevice,
    Turns,
    UnderHead,
    across_mm,
    art_on,
    band_findings,
    band_of,
    distortion_of,
    fixed_head,
    head_findings,
    level_findings,
    levelling_of,
    strain_findings,
    supports_of,
    turn_findings,
    turns_for,
    wall_findings,
    wall_of,
)
from keencoat.core.toolpath import strain_at
from keencoat.core.window import odds_of
from keencoat.jobs.belief import fit_of
from keencoat.jobs.models import Job
from keencoat.jobs.placing.models import Placing
from keencoat.jobs.placing.services.beam import beam_of, room_of
from keencoat.jobs.placing.services.mark import mark_mm_of


@dataclass(frozen=True, eq=False)
class DevicePlace:
    """What a turning device does with the piece: mm of its axis once round, and for a millimetre at the mark; how the
    wall is brought level."""

    turn_mm: float
    axis_per_mm: float
    level: Levelling


@dataclass(frozen=True, eq=False)
class HeadPlace:
    """What a fixed head does: how wide a mark it can make, how wide this one is straight across, and in which turns it
    could be made; None where it cannot."""

    head: FixedHead
    across_mm: float
    turns: Turns | None


@dataclass(frozen=True, eq=False)
class RoundPlace:
    """How a round piece lies. `wall` is as measured, None while nobody has; `taper` is what art comes onto; what turns
    it, or the head above it once a setting is locked; both ways of art with what they do to it."""

    wall: Wall | None
    taper: TaperedWall
    widest_mm: float
    mark_mm: tuple[float, float]
    art: ArtOnWall
    band: Band
    ways: dict[ArtWay, Distortion]
    supports: tuple[Support, ...]
    beam: Beam
    room: HeightRoom | None
    device: DevicePlace | None
    under_head: HeadPlace | None
    findings: tuple[Finding, ...]


def round_place(placing: Placing, piece: RoundPiece) -> RoundPlace:
    """All that follows from what is told. Raises BadValueError where it cannot be so."""
    told, mark_mm = placing.told(), mark_mm_of(placing)
    wall, taper = wall_of(piece, told)
    widest_mm = wall.widest_mm if wall else piece.diameter_mm
    art = art_on(taper, told, mark_mm)
    there_mm = taper.diameter_mm(art.along_mm)
    beam = beam_of(placing.job.machine)
    band = band_of(mark_mm[0], there_mm, told.mark.seam_deg, told.mark.turn_deg)
    findings = [*wall.findings, *wall_findings(wall, (piece.diameter_mm, piece.narrow_mm))] if wall else []
    device = under_head = None
    if placing.device is not None:
        turning = placing.device.to_core()
        level = levelling_of(turning.kind, taper.half_angle_deg, told.supports_mm, mark_mm[1])
        device = DevicePlace(turning.turn_mm(widest_mm), turning.axis_per_mm(widest_mm, there_mm), level)
        findings += level_findings(level, beam)
        findings += turn_findings(placing.device.calibration(), math.pi * there_mm)
        up_and_down = (art.along_mm - mark_mm[1] / 2, art.along_mm + mark_mm[1] / 2)
        ends_mm = sorted(taper.diameter_mm(min(max(along, 0.0), taper.slant_mm)) for along in up_and_down)
        findings += _device_findings(placing.job, turning, widest_mm, there_mm, (ends_mm[0], ends_mm[1]))
    else:
        under_head = _under_head(placing, there_mm / 2, mark_mm[0], beam)
        findings += head_findings(under_head.head, under_head.across_mm) if under_head else []
    return RoundPlace(
        wall,
        taper,
        widest_mm,
        mark_mm,
        art,
        band,
        {way: distortion_of(ArtOnWall(taper, way, art.along_mm), *mark_mm) for way in ArtWay},
        supports_of(told.length_mm, told.stem_mm),
        beam,
        room_of(placing.job, beam),
        device,
        under_head,
        (*findings, *band_findings(band)),
    )


def _device_findings(
    job: Job, turning: TurningDevice, widest_mm: float, there_mm: float, ends_mm: tuple[float, float]
) -> list[Finding]:
    """Whether the locked setting can be burned on a mark whose wall is so wide at its middle, and at its ends."""
    lock = job.locked.first()
    if lock is None:
        return []
    machine, setting = job.machine.to_core(), lock.setting()
    if turning.stands_in_for is StandsInFor.X:
        # Rows go round the wall: where it is narrow the axis goes furthest for a millimetre of it.
        asked = [(turning.axis_per_mm(widest_mm, end), 1.0) for end in ends_mm]
    else:
        # Rows go along it, and spread apart where it is wide.
        asked = [(1.0, ends_mm[1] / there_mm)]
    found = (strain_at(setting, machine, axis, power) for axis, power in asked)
    strain = next((one for one in found if one is not None), None)
    if strain is None:
        return []
    fit = fit_of(job)
    clean = [odds_of(fit, each, machine).clean.mid for each in (setting, strain.fits or setting)]
    return strain_findings(strain, (clean[0], clean[1]))


def _under_head(placing: Placing, radius_mm: float, round_mm: float, beam: Beam) -> HeadPlace | None:
    job = placing.job
    lock = job.locked.first()
    if lock is None:
        return None
    under = UnderHead(fit_of(job), lock.setting(), job.machine.to_core(), beam, radius_mm)
    head = fixed_head(under, job.workshop.wanted_share, placing.told().focus_below_mm)
    can = head.widest_mm > 0 and round_mm <= 2 * math.pi * radius_mm
    turns = turns_for(round_mm, head.widest_mm, radius_mm) if can else None
    return HeadPlace(head, across_mm(round_mm, radius_mm), turns)
