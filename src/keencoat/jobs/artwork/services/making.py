"""What artwork of a job is made on: the locked setting's lines, the look of its process, what its dots become."""

import math
from dataclasses import dataclass, replace
from functools import cached_property
from hashlib import sha256
from threading import Condition

import numpy as np
from cachetools import LRUCache, cached
from shapely.geometry.base import BaseGeometry

from keencoat.core.artwork import (
    ArtKind,
    ArtSpec,
    Burned,
    Detail,
    DotBelief,
    DotModel,
    Lines,
    MadeDots,
    NameList,
    Picture,
    PieceArt,
    ProcessLook,
    Screen,
    SetName,
    Source,
    ToneCurve,
    Tones,
    WedgeStep,
    art_of_piece,
    as_burned,
    calibrated_curve,
    engraved_capital_mm,
    expected_dots,
    finest_detail,
    for_screen,
    ink_of_piece,
    is_engraved,
    lines_of,
    look_of,
    names_set,
    predicted_curve,
    stroke_width_mm,
    strokes_as_burned,
    strokes_of,
    tells_a_curve,
)
from keencoat.core.errors import BadValueError
from keencoat.core.heat import thermal_of
from keencoat.core.piece import FlatPiece
from keencoat.core.quantities import Art, Machine, Setting
from keencoat.core.reading import join_readings
from keencoat.core.toolpath import DotRaster, Polylines, burn_time_s
from keencoat.core.vision import Floats
from keencoat.core.window import PlaceOdds, place_odds
from keencoat.jobs.artwork.models import Artwork
from keencoat.jobs.artwork.services.bringing import sketch_of, source_of
from keencoat.jobs.artwork.services.coat_film import CoatFilm
from keencoat.jobs.belief import fit_of
from keencoat.jobs.evidence import cells_read
from keencoat.jobs.job.services import burned_grids
from keencoat.jobs.models import GridPhoto, Job, LockedSetting, TestGrid
from keencoat.jobs.run.services.sheet import newest_lock
from keencoat.jobs.window.services.locking import evidence_mark

ArtProgram = DotRaster | Polylines
_SAME = 0.02
_WEDGE_SD = 0.03
_COARSE_DOTS = 100_000
_MADE_BYTES, _BURNED_BYTES = 42_000_000, 50_000_000
"""Many small pieces, or one of the largest: of 40 million dots, and of four million places in engraved lines."""


@dataclass(frozen=True)
class Wedge:
    """A grey wedge that was burned at the locked setting and photographed: where, and its steps."""

    grid: str
    screen: Screen
    steps: tuple[WedgeStep, ...]


@dataclass(frozen=True, eq=False)
class Engraving:
    """What lines are drawn at: the setting locked for fine strokes with the odds of the strokes' own window, or where
    none is `locked`, what filled art has; how wide a line comes out, and the least height of capitals."""

    setting: Setting
    odds: PlaceOdds
    locked: bool
    line_mm: float
    capital_mm: float


@dataclass(frozen=True, eq=False)
class ArtBase:
    """What artwork is made on. `key`: the job, the version of its lock, a mark of all that the rest follows from.
    `patch_mm`: the largest patch that was rated, 0 if none."""

    key: tuple[int, int, str]
    setting: Setting
    machine: Machine
    piece: FlatPiece
    mirrored: bool
    focus: str
    look: ProcessLook
    lines: Lines
    odds: PlaceOdds
    engraving: Engraving
    belief: DotBelief
    wedge: Wedge | None
    patch_mm: float

    @property
    def size_mm(self) -> tuple[float, float]:
        """Width and height of the piece."""
        return self.piece.width_mm, self.piece.height_mm

    @cached_property
    def _curves(self) -> dict[Screen, ToneCurve]:
        return {}

    def curve(self, screen: Screen) -> ToneCurve:
        """From dots to fullness with this screen: by the wedge if there is one, else as expected."""
        if screen not in self._curves:
            self._curves[screen] = self._curve(screen)
        return self._curves[screen]

    def _curve(self, screen: Screen) -> ToneCurve:
        if self.wedge is None:
            return predicted_curve(screen, self.belief)
        return calibrated_curve(screen, self.wedge.screen, self.wedge.steps, self.belief)

    @cached_property
    def model(self) -> DotModel:
        """The dots, as far as is known: by the wedge if there is one."""
        return self.belief.model if self.wedge is None else self.curve(Screen.STUCKI).model

    @cached_property
    def left_over(self) -> Floats | None:
        """What the wedge saw and the dots' model does not explain."""
        return None if self.wedge is None else self.curve(Screen.STUCKI).left_over

    @cached_property
    def detail(self) -> Detail:
        """What this setting can hold."""
        return finest_detail(self.model)

    def tones(self, spec: ArtSpec) -> Tones:
        """How tones become dots as asked."""
        curve = self.curve(spec.screen) if spec.take_back_gain and spec.screen is not Screen.THRESHOLD else None
        return Tones(self.look.look, spec.screen, curve, spec.serpentine)

    def names(self, source: Source, spec: ArtSpec) -> tuple[SetName, ...]:
        """The names as they are set, none for artwork that is no list."""
        return names_set(source, spec, self.lines, self.least_capital_mm(spec)) if isinstance(source, NameList) else ()

    def least_capital_mm(self, spec: ArtSpec) -> float:
        """How high letters must be to be read, filled or engraved."""
        filled = spec.typeface.is_filled and not spec.outlines
        return self.detail.capital_mm if filled else self.engraving.capital_mm

    def setting_of(self, art: PieceArt) -> Setting:
        """What a piece is burned at: the setting for fine strokes where it is engraved."""
        return self.setting if art.strokes is None else self.engraving.setting

    def program(self, art: PieceArt, across: bool) -> ArtProgram:
        """What the head does for one piece, turned on the bed or not. Raises BadValueError with the reason where
        nothing can be burned."""
        return art.drawn.program(self.setting_of(art), self.machine, self.size_mm, self.mirrored, across)

    def burned(self, art: PieceArt, dots: MadeDots, ln_film: Floats | float, greys: bool) -> Burned:
        """What is expected of `dots`, all or some of a piece's, on a film of that ln over the job's, one figure or one
        a dot; `greys`: whether they stand for greys."""
        if art.strokes is not None:
            return strokes_as_burned(dots, self.engraving.odds, ln_film)
        return as_burned(dots.dots, self.model, self.odds, ln_film, self.left_over, greys)


def seconds_of(program: ArtProgram, base: ArtBase) -> float:
    """How long the machine takes for a piece."""
    return burn_time_s(program.for_time(), base.machine)


def base_of(job: Job) -> ArtBase:
    """What the job's artwork is made on now. Raises NotAllowedError while no setting is locked."""
    return _base(job, newest_lock(job))


def _base_key(job: Job, lock: LockedSetting) -> tuple[int, int, str]:
    # The job's own count of changes would do, but for this: it counts changes of the artwork too.
    rests_on = evidence_mark(job), sorted(job.machine.facts().items())
    return job.pk, lock.version, sha256(repr(rests_on).encode()).hexdigest()[:12]


@cached(LRUCache(8), key=_base_key, condition=Condition())
def _base(job: Job, lock: LockedSetting) -> ArtBase:
    machine, setting = job.machine.to_core(), lock.setting()
    odds = place_odds(fit_of(job), setting, machine)
    look = look_of(job.process)
    lines = lines_of(setting.interval_mm, machine.spot_mm, job.piece().face.coated)
    belief = expected_dots(lines, setting, machine, thermal_of(job.substrate).diffusivity_mm2_s, odds)
    rated = [grid.cell_mm for grid in burned_grids(job) if grid.rated_of()[0]]
    return ArtBase(
        _base_key(job, lock),
        setting,
        machine,
        job.piece().face,
        job.is_seen_through,
        job.focus_words(),
        look,
        lines,
        odds,
        _engraving_of(job, lock, odds, finest_detail(belief.model).line_mm),
        belief,
        next((found for grid in reversed(burned_grids(job)) if (found := _wedge_of(grid, setting, look))), None),
        max(rated, default=0.0),
    )


def _engraving_of(job: Job, lock: LockedSetting, fills: PlaceOdds, single_mm: float) -> Engraving:
    """`single_mm`: how wide a single line of filled art comes out."""
    machine, setting = job.machine.to_core(), lock.by_art().get(Art.STROKES)
    if setting is None:
        odds, line_mm = fills, single_mm or stroke_width_mm(machine.spot_mm, 0.0)
    else:
        odds = place_odds(fit_of(job, art=Art.STROKES), setting, machine)
        line_mm = stroke_width_mm(machine.spot_mm, odds.margin_ln)
    capital_mm = engraved_capital_mm(line_mm, machine.spot_mm)
    return Engraving(setting or lock.setting(), odds, setting is not None, line_mm, capital_mm)


def _wedge_of(grid: TestGrid, setting: Setting, look: ProcessLook) -> Wedge | None:
    """The greys of a grid at this setting, by its photos: contrast of each against that of the full cell. None where
    there are too few to go by."""
    greys = {c.code: c.grey_pct for c in grid.cells.all() if c.focus_mm == 0 and _is_alike(c.setting(), setting)}
    read = {code: join_readings(found) for code, found in cells_read(list(_light(grid))).items() if code in greys}
    full = [abs(r.contrast_l) for code, r in read.items() if greys[code] == 100]
    if not full:
        return None
    steps = []
    for code, reading in sorted(read.items()):
        seen = min(1.2, max(0.0, abs(reading.contrast_l) / max(full)))
        steps.append(WedgeStep(greys[code] / 100, look.look.fullness_of_step(seen), _WEDGE_SD))
    return Wedge(grid.label, Screen.BAYER_4, tuple(steps)) if tells_a_curve(steps) else None


def _light(grid: TestGrid) -> list[GridPhoto]:
    return list(grid.photos.defer("original", "upright"))


def _is_alike(one: Setting, other: Setting) -> bool:
    pairs = (
        (one.power_pct, other.power_pct),
        (one.speed_mm_s, other.speed_mm_s),
        (one.interval_mm, other.interval_mm),
    )
    return one.passes == other.passes and all(abs(a / b - 1) < _SAME for a, b in pairs)


def _made_key(artwork: Artwork, base: ArtBase, piece: int = 0) -> tuple[object, ...]:
    return artwork.pk, artwork.version, base.key, piece


def _bytes_of(art: PieceArt) -> int:
    return 1 if art.made is None else art.made.dots.nbytes


@cached(LRUCache(_MADE_BYTES, _bytes_of), key=_made_key, condition=Condition())
def made_of(artwork: Artwork, base: ArtBase, piece: int = 0) -> PieceArt:
    """What is burned on one piece."""
    return _laid_on(base.lines, source_of(artwork.pk, artwork.brought), artwork, base, piece)


def _laid_on(lines: Lines, source: Source, artwork: Artwork, base: ArtBase, piece: int) -> PieceArt:
    spec = artwork.asked()
    ink = ink_of_piece(source, spec, lines.room, base.names(source, spec), piece)
    return art_of_piece(source, spec, lines, base.tones(spec), ink, base.engraving.line_mm)


def coarse_of(artwork: Artwork, base: ArtBase, piece: int) -> PieceArt:
    """What is burned on one piece, on lines so far apart that it is had at once: a first look, for the eye alone. Not
    for engraved lines, which stay as many."""
    source = source_of(artwork.pk, artwork.brought)
    wide_mm, high_mm = base.size_mm
    apart = max(1.0, math.sqrt(wide_mm * high_mm / (base.lines.interval_mm * base.lines.pitch_mm * _COARSE_DOTS)))
    lines = replace(base.lines, interval_mm=apart * base.lines.interval_mm, pitch_mm=apart * base.lines.pitch_mm)
    seen = for_screen(source, math.isqrt(4 * _COARSE_DOTS)) if isinstance(source, Picture) else source
    return _laid_on(lines, seen, artwork, base, piece)


def _burned_key(
    artwork: Artwork, base: ArtBase, piece: int, ln_film: float = 0.0, film: CoatFilm | None = None
) -> tuple[object, ...]:
    return *_made_key(artwork, base, piece), ln_film, film and film.key


@cached(
    LRUCache(_BURNED_BYTES, getsizeof=lambda burned: 3 * burned.fullness.nbytes), _burned_key, condition=Condition()
)
def burned_of(
    artwork: Artwork, base: ArtBase, piece: int, ln_film: float = 0.0, film: CoatFilm | None = None
) -> Burned:
    """What is expected to come of it on a film whose ln over the job's is `ln_film`, and where a photo told that one
    with its thick and thin places; of nothing, nothing comes."""
    art = made_of(artwork, base, piece)
    made = art.made
    if made is None:
        return as_burned(np.zeros((1, 1), dtype=np.bool_), base.model, base.odds)
    ln = ln_film if film is None else ln_film + film.at(made, base.mirrored)
    return base.burned(art, made, ln, is_in_greys(artwork))


def setting_for(artwork: Artwork, base: ArtBase) -> Setting:
    """What its pieces are burned at."""
    return base.engraving.setting if is_art_engraved(artwork) else base.setting


def is_art_engraved(artwork: Artwork) -> bool:
    """Whether it is drawn in lines."""
    return is_engraved(sketch_of(artwork), artwork.asked())


def is_in_greys(artwork: Artwork) -> bool:
    """Whether its dots stand for greys."""
    return artwork.brought is ArtKind.PICTURE and artwork.asked().screen is not Screen.THRESHOLD


def outlines_of(artwork: Artwork, base: ArtBase, piece: int) -> BaseGeometry | None:
    """What is filled on one piece, None for a picture of dots, for lines, and for a name that is left out."""
    source, spec = sketch_of(artwork), artwork.asked()
    if is_engraved(source, spec):
        return None
    ink = ink_of_piece(source, spec, base.lines.room, base.names(source, spec), piece).ink
    return ink and ink.intersection(base.lines.room)


def outline_program(artwork: Artwork, base: ArtBase, piece: int) -> Polylines | None:
    """What the head would do for its outlines alone; None where it has none, or too many to be drawn."""
    area = outlines_of(artwork, base, piece)
    if area is None:
        return None
    try:
        strokes = strokes_of(area, base.lines.room, base.engraving.line_mm)
    except BadValueError:
        return None
    return strokes.program(base.engraving.setting, base.machine, base.size_mm, base.mirrored, artwork.asked().across)
