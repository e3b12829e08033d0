"""What an artwork takes and does: dots, time, energy, heat, detail, and what to mind."""

from collections.abc import Sequence
from dataclasses import dataclass

from keencoat.core.artwork import (
    Detail,
    Drawing,
    NameList,
    Picture,
    PieceArt,
    SetName,
    WayTime,
    Wording,
    capital_of_width,
    engraved_findings,
    height_per_width,
    largest_fill_mm,
    made_findings,
    names_findings,
    other_ways,
    picture_findings,
    place_findings,
    text_findings,
)
from keencoat.core.errors import BadValueError
from keencoat.core.findings import Finding
from keencoat.core.heat import ArtBurn, ArtHeat, art_heat_findings, artwork_heat, kept_share, thermal_of
from keencoat.core.substrate import find_substrate
from keencoat.jobs.artwork.models import Artwork
from keencoat.jobs.artwork.services.bringing import source_of
from keencoat.jobs.artwork.services.coat_film import CoatFilm
from keencoat.jobs.artwork.services.making import ArtBase, burned_of, made_of, outlines_of, seconds_of
from keencoat.jobs.artwork.services.versions import version_findings


@dataclass(frozen=True)
class ArtFigures:
    """Of one piece: dots burned, the area they cover, how far the beam is on, time and energy, the largest fill, its
    heat, shares of what is
    burned that are likelier faint or harsh than not; of all: what the setting holds, and what to mind."""

    dots: int
    lit_mm2: float
    lit_mm: float
    seconds: float
    energy_j: float
    fill_mm: float
    heat: ArtHeat | None
    faint_share: float
    harsh_share: float
    ways: tuple[WayTime, ...]
    detail: Detail
    findings: tuple[Finding, ...]


def figures_of(artwork: Artwork, base: ArtBase, piece: int, film: CoatFilm | None = None) -> ArtFigures:
    """The figures of one piece of an artwork, on the film that a photo told if one is given."""
    art, job = made_of(artwork, base, piece), artwork.job
    detail = base.detail
    said = _said(artwork, base)
    if art.made is None or not art.made.dots.any():
        return ArtFigures(0, 0.0, 0.0, 0.0, 0.0, 0.0, None, 0.0, 0.0, (), detail, tuple(said))
    spec = artwork.asked()
    program = base.program(art, spec.across)
    seconds = seconds_of(program, base)
    energy = program.energy_j
    size_mm = base.piece.width_mm, base.piece.height_mm
    # Lines drawn side by side are no fill: each has cooled before the next.
    fill_mm = largest_fill_mm(art.made) if art.strokes is None else 0.0
    thermal = thermal_of(job.substrate)
    kept = kept_share(find_substrate(job.substrate), job.recipe(), base.machine.source, job.layer_um())
    burn = ArtBurn(base.setting_of(art), base.machine, fill_mm, energy, seconds, program.lines)
    heat = artwork_heat(burn, base.piece, thermal, kept)
    said += [*_made_said(art, base, fill_mm), *art_heat_findings(heat, thermal)]
    burned = burned_of(artwork, base, piece, 0.0, film)
    ways: tuple[WayTime, ...] = ()
    if art.strokes is None:
        area = outlines_of(artwork, base, piece)
        ways = other_ways(art.made, base.setting, base.machine, size_mm, spec.across, area)
    return ArtFigures(
        int(art.made.dots.sum()),
        art.made.lit_mm2,
        program.lit_mm,
        seconds,
        energy,
        fill_mm,
        heat,
        burned.faint_share,
        burned.harsh_share,
        ways,
        detail,
        tuple(said),
    )


def _said(artwork: Artwork, base: ArtBase) -> list[Finding]:
    source, spec, changed = source_of(artwork.pk, artwork.brought), artwork.asked(), version_findings(artwork, base)
    if isinstance(source, Picture):
        return changed + picture_findings(source, spec, base.lines, base.look)
    if isinstance(source, Drawing | Wording):
        found = place_findings(spec, height_per_width(source, spec), base.lines)
        capital_mm = spec.placement.width_mm * capital_of_width(source, spec)
        return changed + found + (text_findings(capital_mm, base.least_capital_mm(spec)) if capital_mm else [])
    return changed + names_findings(source, base.names(source, spec), artwork.job.pieces)


def _made_said(art: PieceArt, base: ArtBase, fill_mm: float) -> list[Finding]:
    if art.strokes is None:
        return made_findings(fill_mm, base.patch_mm, base.detail)
    return engraved_findings(art.strokes, base.engraving.setting, base.machine.accel_mm_s2, base.engraving.locked)


def names_of(artwork: Artwork, base: ArtBase) -> Sequence[SetName]:
    """The names as they are set. Raises BadValueError for artwork that is no list."""
    source = source_of(artwork.pk, artwork.brought)
    if not isinstance(source, NameList):
        raise BadValueError("This artwork is no list of names.", field="artwork", hint="Bring a CSV of names.")
    return base.names(source, artwork.asked())
