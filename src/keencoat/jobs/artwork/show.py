"""From stored artwork to what the API gives."""

from dataclasses import asdict

from keencoat.core.artwork import SHARES, Drawing, NameList, Screen, finest_detail, height_per_width
from keencoat.core.errors import NotAllowedError
from keencoat.core.quantities import Range
from keencoat.jobs.artwork import schemas as s
from keencoat.jobs.artwork.models import Artwork
from keencoat.jobs.artwork.services.bringing import source_of
from keencoat.jobs.artwork.services.figures import figures_of
from keencoat.jobs.artwork.services.making import ArtBench, bench_of, made_of
from keencoat.jobs.job.schemas import SettingOut
from keencoat.jobs.models import Job
from keencoat.shop.fields import FindingOut


def show_artwork(artwork: Artwork) -> s.ArtworkOut:
    """An artwork."""
    source, spec = source_of(artwork.pk, artwork.brought), artwork.asked()
    return s.ArtworkOut(
        id=artwork.pk,
        name=artwork.name,
        kind=artwork.brought,
        at=artwork.at,
        version=artwork.version,
        spec=s.SpecIO.model_validate(spec),
        groups=[name for name in source.groups if name] if isinstance(source, Drawing) else [],
        names=len(source.names) if isinstance(source, NameList) else 0,
        height_per_width=height_per_width(source, spec),
    )


def show_artworks(job: Job) -> s.ArtworksOut:
    """A job's artworks."""
    try:
        bench = show_bench(bench_of(job))
    except NotAllowedError:
        # Artwork may be brought before a setting is locked; the page says what is missing.
        bench = None
    rows = job.artworks.defer("source")
    return s.ArtworksOut(bench=bench, artworks=[show_artwork(a) for a in rows])


def show_bench(bench: ArtBench) -> s.ArtBenchOut:
    """What artwork is made on."""
    detail = finest_detail(bench.model)
    return s.ArtBenchOut(
        lock_version=bench.key[1],
        setting=SettingOut.showing(bench.setting),
        says=bench.look.says,
        one_tone=bench.look.one_tone,
        darkens=bench.look.look.darkens,
        mirrored=bench.mirrored,
        width_mm=bench.piece.width_mm,
        height_mm=bench.piece.height_mm,
        **asdict(detail),
        wedge=bench.wedge.grid if bench.wedge else "",
        stamp="-".join(str(part) for part in bench.key),
    )


def show_figures(artwork: Artwork, bench: ArtBench, piece: int) -> s.ArtFiguresOut:
    """The figures of one piece."""
    found, art = figures_of(artwork, bench, piece), made_of(artwork, bench, piece)
    heat = found.heat
    return s.ArtFiguresOut(
        label=art.label,
        why=art.why,
        dots=found.dots,
        lit_mm2=found.lit_mm2,
        seconds=found.seconds,
        batch_seconds=found.seconds * artwork.job.pieces,
        energy_j=found.energy_j,
        fill_mm=found.fill_mm,
        fill_k=[heat.fill_low_k, heat.fill_high_k] if heat else [],
        plate_k=[heat.plate_low_k, heat.plate_high_k] if heat else [],
        faint_share=found.faint_share,
        harsh_share=found.harsh_share,
        findings=[FindingOut.showing(f) for f in found.findings],
    )


def show_curve(bench: ArtBench, screen: Screen) -> s.CurveOut:
    """From dots to fullness."""
    curve = bench.curve(screen)
    points = [
        s.CurvePointOut(share=float(share), fullness=Range(float(low), float(mid), float(high)))
        for share, low, mid, high in zip(SHARES, curve.low, curve.fullness, curve.high, strict=True)
    ]
    steps = [s.WedgeStepOut.showing(step) for step in curve.steps]
    return s.CurveOut(
        screen=screen, wedge=bench.wedge.grid if steps and bench.wedge else "", points=points, steps=steps
    )
