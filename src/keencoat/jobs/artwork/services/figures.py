"""What an artwork takes and does: dots, time, energy, heat, detail, and what to mind."""

from collections.abc import Sequence
from dataclasses import dataclass

from keencoat.core.artwork import (
    BurnedShares,
    NameList,
    Picture,
    PieceArt,
    SetName,
    Wording,
    capital_of_width,
    engraved_findings,
    height_per_width,
    made_findings,
    names_findings,
    picture_findings,
    place_findings,
    text_findings,
)
from keencoat.core.drawing import Drawing
from keencoat.core.errors import BadValueError
from keencoat.core.findings import Finding
from keencoat.core.heat import ArtBurn, ArtHeat, art_heat_findings, artwork_heat, kept_share, thermal_of
from keencoat.core.substrate import find_substrate
from keencoat.jobs.artwork.models import Artwork
from keencoat.jobs.artwork.services.bringing import source_of
from keencoat.jobs.artwork.services.coat_film import CoatFilm
from keencoat.jobs.artwork.services.effort import Effort, effort_of
from keencoat.jobs.artwork.services.making import ArtBase, burned_of, made_of
from keencoat.jobs.artwork.services.versions import version_findings
from keencoat.shop.soon import soon


@dataclass(frozen=True)
class ArtFigures:
    """Of one piece: dots burned, the area they cover, what it takes of the machine, its heat, how much of what is
    burned may fail; and what to mind."""

    dots: int
    lit_mm2: float
    effort: Effort
    heat: ArtHeat | None
    shares: BurnedShares
    findings: tuple[Finding, ...]


def figures_of(artwork: Artwork, base: ArtBase, piece: int, film: CoatFilm | None = None) -> ArtFigures:
    """The figures of one piece of an artwork, on the film that a photo told if one is given. Raises NotYetError while
    they are worked out."""
    art, job = soon(made_of, artwork, base, piece), artwork.job
    said = _said(artwork, base)
    if art.made is None or not art.made.dots.any():
        return ArtFigures(0, 0.0, Effort(), None, BurnedShares(), tuple(said))
    burned, effort = soon(burned_of, artwork, base, piece, 0.0, film), soon(effort_of, artwork, base, piece)
    thermal = thermal_of(job.substrate)
    kept = kept_share(find_substrate(job.substrate), job.recipe(), base.machine.source, job.layer_um())
    burn = ArtBurn(base.setting_of(art), base.machine, effort.fill_mm, effort.energy_j, effort.seconds, effort.lines)
    heat = artwork_heat(burn, base.piece, thermal, kept)
    said += [*_made_said(art, base, effort.fill_mm), *art_heat_findings(heat, thermal)]
    return ArtFigures(
        int(art.made.dots.sum()),
        art.made.lit_mm2,
        effort,
        heat,
        burned.shares,
        tuple(said),
    )


def _said(artwork: Artwork, base: ArtBase) -> list[Finding]:
    source, spec = soon(source_of, artwork.pk, artwork.brought), artwork.asked()
    changed = version_findings(artwork, base)
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
