"""From stored artwork to what the API gives."""

from dataclasses import asdict
from typing import Any

from keencoat.core.artwork import (
    SHARES,
    Patch,
    Screen,
    capital_of_width,
    flaws_from,
    height_per_width,
    is_engraved,
    piece_count,
    type_size_pt,
)
from keencoat.core.drawing import Drawing
from keencoat.core.errors import NotAllowedError
from keencoat.core.inspect import flaws_seen, patches_seen
from keencoat.core.piece import Shape
from keencoat.core.quantities import Range
from keencoat.core.substrate import find_process
from keencoat.jobs.artwork import schemas as s
from keencoat.jobs.artwork.models import Artwork, ArtworkBurn, ArtworkPhoto
from keencoat.jobs.artwork.services.bringing import sketch_of
from keencoat.jobs.artwork.services.coat_film import CoatFilm, film_of
from keencoat.jobs.artwork.services.figures import figures_of
from keencoat.jobs.artwork.services.making import ArtBase, base_of, made_of
from keencoat.jobs.job.schemas import LaserOut, SettingOut
from keencoat.jobs.models import Job
from keencoat.shop.fields import FindingOut


def show_artwork(artwork: Artwork) -> s.ArtworkOut:
    """An artwork."""
    source, spec = sketch_of(artwork), artwork.asked()
    return s.ArtworkOut(
        id=artwork.pk,
        name=artwork.name,
        kind=artwork.brought,
        at=artwork.at,
        version=artwork.version,
        spec=s.SpecIO.model_validate(spec),
        groups=source.layers if isinstance(source, Drawing) else [],
        stem=artwork.stem,
        pieces=piece_count(source, spec),
        height_per_width=height_per_width(source, spec),
        capital_of_width=capital_of_width(source, spec),
        engraved=is_engraved(source, spec),
    )


def show_artworks(job: Job) -> s.ArtworksOut:
    """A job's artworks."""
    try:
        base = show_base(base_of(job), film_of(job))
    except NotAllowedError:
        # Artwork may be brought before a setting is locked; the page says what is missing.
        base = None
    rows = job.artworks.defer("source")
    return s.ArtworksOut(base=base, artworks=[show_artwork(a) for a in rows])


def show_base(base: ArtBase, film: CoatFilm | None) -> s.ArtBaseOut:
    """What artwork is made on."""
    left, low, right, top = base.lines.room.bounds
    return s.ArtBaseOut(
        lock_version=base.key[1],
        setting=SettingOut.showing(base.setting),
        says=base.look.says,
        one_tone=base.look.one_tone,
        darkens=base.look.look.darkens,
        mirrored=base.mirrored,
        focus=base.focus,
        width_mm=base.piece.width_mm,
        height_mm=base.piece.height_mm,
        room_width_mm=right - left,
        room_height_mm=top - low,
        **asdict(base.detail),
        capital_pt=type_size_pt(base.detail.capital_mm),
        engraved_capital_mm=base.engraving.capital_mm,
        engraving=SettingOut.showing(base.engraving.setting),
        wedge=base.wedge.grid if base.wedge else "",
        film_photo=film.at_time if film else None,
        stamp="-".join(str(part) for part in (*base.key, *(film.key if film else ()))),
    )


def show_figures(artwork: Artwork, base: ArtBase, piece: int, film: CoatFilm | None) -> s.ArtFiguresOut:
    """The figures of one piece."""
    found, art = figures_of(artwork, base, piece, film), made_of(artwork, base, piece)
    heat, effort = found.heat, found.effort
    return s.ArtFiguresOut(
        label=art.label,
        why=art.why,
        dots=found.dots,
        lit_mm2=found.lit_mm2,
        lit_mm=effort.lit_mm,
        seconds=effort.seconds,
        batch_seconds=effort.seconds * artwork.job.pieces,
        energy_j=effort.energy_j,
        fill_mm=effort.fill_mm,
        fill_k=[heat.fill_low_k, heat.fill_high_k] if heat else [],
        plate_k=[heat.plate_low_k, heat.plate_high_k] if heat else [],
        shares=s.BurnedSharesOut.showing(found.shares),
        ways=[s.WayTimeOut.showing(way) for way in effort.ways],
        findings=[FindingOut.showing(f) for f in found.findings],
    )


def show_pieces(artwork: Artwork) -> s.ArtPiecesOut:
    """What came of an artwork."""
    burn = ArtworkBurn.objects.filter(made__artwork=artwork).defer("moves").last()
    photos = ArtworkPhoto.objects.filter(made__artwork=artwork).select_related("made")
    return s.ArtPiecesOut(
        burn=LaserOut.showing(burn) if burn else None,
        photos=[
            s.ArtPhotoOut(
                id=photo.pk,
                version=photo.version,
                at=photo.at,
                simulated=photo.simulated,
                waiting=photo.is_waiting,
                made_version=photo.made.version,
                lock_version=photo.made.lock_version,
                piece=photo.number,
                points=photo.points,
                round=artwork.job.piece().face.shape is Shape.DISC,
                trouble=photo.trouble,
                likeness=show_likeness(photo.reading, artwork.job) if photo.reading else None,
            )
            for photo in photos.defer("original", "upright", "difference")
        ],
        packs=[s.ArtPackOut.showing(pack) for pack in artwork.packs.defer("data")],
        versions=artwork.versions.count(),
    )


def show_likeness(reading: dict[str, Any], job: Job) -> s.LikenessOut:
    """How a photographed piece of a job compares with what was expected of it."""
    own = {name: value for name, value in reading.items() if name != "flaws"}
    if reading["flaws"] is None:
        return s.LikenessOut(**own, seen=None, patches=[])
    flaws, face = flaws_from(reading["flaws"]), job.piece().face
    return s.LikenessOut(
        **own,
        seen=[s.SeenFlawOut.showing(flaw) for flaw in flaws_seen(flaws, find_process(job.process))],
        patches=[_patch(patch, missing, face.width_mm, face.height_mm) for patch, missing in patches_seen(flaws)],
    )


def _patch(patch: Patch, missing: bool, wide_mm: float, high_mm: float) -> s.PatchOut:
    return s.PatchOut(
        left=0.5 + patch.left_mm / wide_mm,
        top=0.5 - patch.top_mm / high_mm,
        width=patch.width_mm / wide_mm,
        height=patch.height_mm / high_mm,
        missing=missing,
    )


def show_curve(base: ArtBase, screen: Screen) -> s.CurveOut:
    """From dots to fullness."""
    curve = base.curve(screen)
    points = [
        s.CurvePointOut(share=float(share), fullness=Range(float(low), float(mid), float(high)))
        for share, low, mid, high in zip(SHARES, curve.low, curve.fullness, curve.high, strict=True)
    ]
    steps = [s.WedgeStepOut.showing(step) for step in curve.steps]
    return s.CurveOut(screen=screen, wedge=base.wedge.grid if steps and base.wedge else "", points=points, steps=steps)
