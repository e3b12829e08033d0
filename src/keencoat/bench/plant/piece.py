"""A whole piece: its film, what the head did to it, and how it looks once washed, as fields over its area."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from keencoat.bench.filmfield import AS_MEANT, Coated, FilmField, make_film
from keencoat.bench.plant.dots import REACH_MM, Canvas, burn_dots
from keencoat.bench.plant.exposure import Hatch, Stand, Trace
from keencoat.bench.plant.fill import Beam, Fill, burn_fill, heating, standing
from keencoat.bench.plant.heat import cooling_s
from keencoat.bench.plant.materials import Harm, Look, Material, Piece, Way
from keencoat.bench.plant.truth import Truth

Field = NDArray[np.float32]

PX_PER_MM = 16
_SPREADS_S, _LIT = 0.5, 0.5
SPREAD_HARMS = {Harm.SPREAD, Harm.HAZE, Harm.UNDERCUT}


@dataclass(frozen=True)
class Sheet:
    """The blank: size in mm, whether it is a disc, thickness in mm, width of the bare rim."""

    width_mm: float
    height_mm: float
    disc: bool
    thickness_mm: float


def _field(values: Any) -> Field:  # noqa: ANN401 # whatever numpy and cv2 give
    return np.asarray(values, dtype=np.float32)


def seen_share(look: Look, mark: Any) -> Any:  # noqa: ANN401 # an array of any float type, and one like it back
    """A mark as an eye sees it: its step in cube-root luminance (CIE 1976) against a full mark's."""
    weights = np.array([0.2126, 0.7152, 0.0722])
    ground, full = float(np.dot(look.ground, weights)), float(np.dot(look.mark, weights))
    root = np.cbrt(ground + (full - ground) * mark)
    return (root - np.cbrt(ground)) / (np.cbrt(full) - np.cbrt(ground))


@dataclass(frozen=True, eq=False)
class _Burned:
    """A fill on its part of the piece, upright: mark, density of harm, where it was lit, excess over what harms."""

    window: tuple[slice, slice]
    mark: Field
    harm: NDArray[np.float64]
    lit: NDArray[np.float64]
    excess: float


class BurnedPiece:
    """A coated piece under the head. Coordinates of hatches and traces: mm from its lower left corner, y up."""

    def __init__(
        self,
        material: Material,
        sheet: Sheet,
        piece: Piece,
        rated_w: float,
        seed: int,
        wavelength_nm: float = 450.0,
        coated: Coated = AS_MEANT,
    ) -> None:
        self.material, self.sheet = material, sheet
        self.beam = Beam(rated_w, wavelength_nm, material, piece)
        self.rng = np.random.default_rng([seed, 99])
        # Film varies over millimetres: a coarse field is plenty, and is made in no time.
        mean_um = material.film_um * piece.film * coated.film_share
        self.film: FilmField = make_film(
            coated.fault, sheet.width_mm, sheet.height_mm, mean_um, 4, sheet.disc, self.rng
        )
        shape = (round(sheet.height_mm * PX_PER_MM), round(sheet.width_mm * PX_PER_MM))
        self.mark: Field = np.zeros(shape, dtype=np.float32)
        self.harm: Field = np.zeros(shape, dtype=np.float32)
        self.halo: Field = np.zeros(shape, dtype=np.float32)
        self.brown: Field = np.zeros(shape, dtype=np.float32)
        self.truths: list[Truth] = []
        self._burned: list[tuple[float, float, float, float]] = []

    def expose(self, hatches: list[Hatch], traces: list[Trace], stands: Sequence[Stand] = ()) -> None:
        """Burn fills, strokes and standing beams into the piece, each in the order in which they were made."""
        for hatch in hatches:
            self._fill(hatch)
        for trace in traces:
            self._stroke(trace)
        for stand in stands:
            self._pit(stand)

    def _window(self, box: tuple[float, float, float, float]) -> tuple[slice, slice]:
        """Rows and columns of the fields for a box in mm."""
        left, low, right, top = box
        rows, columns = self.mark.shape
        return (
            slice(max(0, round(rows - top * PX_PER_MM)), min(rows, round(rows - low * PX_PER_MM))),
            slice(max(0, round(left * PX_PER_MM)), min(columns, round(right * PX_PER_MM))),
        )

    def _film_at(self, box: tuple[float, float, float, float], shape: tuple[int, int]) -> NDArray[np.float64]:
        left, low, right, top = box
        px = self.film.px_per_mm
        rows, columns = self.film.film_um.shape
        ys = np.clip(rows - np.linspace(low, top, shape[0]) * px, 0, rows - 1).astype(int)
        xs = np.clip(np.linspace(left, right, shape[1]) * px, 0, columns - 1).astype(int)
        return np.asarray(self.film.film_um[np.ix_(ys, xs)])

    def _warm_k(self, hatch: Hatch) -> float:
        """What earlier fills have left in the plate where this one starts: point sources in a thin plate."""
        m = self.material
        left, low, right, top = hatch.box
        x, y = (left + right) / 2, (low + top) / 2
        heat = m.conductivity * 1e-3 / m.alpha * self.sheet.thickness_mm
        cools_s = cooling_s(self.sheet.thickness_mm, m.conductivity, m.alpha)
        total = 0.0
        for at_x, at_y, end_s, energy_j in self._burned:
            spread = 4 * m.alpha * max(1.0, hatch.start_s - end_s)
            kept = energy_j * math.exp(-max(0.0, hatch.start_s - end_s) / cools_s)
            total += kept / (heat * math.pi * spread) * math.exp(-((x - at_x) ** 2 + (y - at_y) ** 2) / spread)
        return total

    def _fill(self, hatch: Hatch) -> None:
        left, low, right, top = hatch.box
        if right - left < 0.2 or top - low < 0.05:
            return
        burned = self._whole(hatch) if hatch.is_whole else self._dotted(hatch)
        window = burned.window
        self.mark[window] = np.maximum(self.mark[window], burned.mark)
        harm = self._harm(burned)
        m = self.material
        self._burned.append(
            (
                (left + right) / 2,
                (low + top) / 2,
                hatch.end_s,
                m.kept_share * self.beam.watts(hatch.power) * hatch.lit_mm / hatch.speed_mm_s,
            )
        )
        seen = seen_share(self.material.look, _field(cv2.blur(self.mark[window] * (1 - self.harm[window]), (5, 5))))
        seen = seen[burned.lit > _LIT] if (burned.lit > _LIT).any() else np.zeros(1)
        self.truths.append(Truth((left, low, right, top), float(seen.mean()), float((seen < 0.4).mean()), harm))

    def _whole(self, hatch: Hatch) -> "_Burned":
        """A rectangle of whole lines."""
        window = self._window(hatch.box)
        shape = self.mark[window].shape
        film = self._film_at(hatch.box, shape)
        fill = burn_fill(self.beam, hatch, self.sheet.thickness_mm, film, self._warm_k(hatch))
        mark = self._lined(np.flipud(fill.mark).astype(np.float32), hatch, fill)
        return _Burned(window, mark, np.flipud(fill.harm), np.ones(shape), fill.excess)

    def _dotted(self, hatch: Hatch) -> "_Burned":
        """Dots, or lines of unlike length."""
        left, low, right, top = hatch.box
        window = self._window((left - REACH_MM, low - REACH_MM, right + REACH_MM, top + REACH_MM))
        rows, columns = self.mark[window].shape
        left_mm, low_mm = window[1].start / PX_PER_MM, (self.mark.shape[0] - window[0].stop) / PX_PER_MM
        box = (left_mm, low_mm, left_mm + columns / PX_PER_MM, low_mm + rows / PX_PER_MM)
        canvas = Canvas(left_mm, low_mm, rows, columns, PX_PER_MM)
        film = self._film_at(box, (rows, columns))
        came = burn_dots(self.beam, hatch, self.sheet.thickness_mm, film, self._warm_k(hatch), canvas)
        mark, harm, lit = (np.flipud(face) for face in (came.mark, came.harm, came.lit))
        return _Burned(window, _field(mark), harm, lit, came.excess)

    def _lined(self, mark: Field, hatch: Hatch, fill: Fill) -> Field:
        """Stripes where lines lie further apart than they mark: the same mean, in bands."""
        cover = float(np.median(fill.cover))
        if cover > 0.97 or hatch.interval_mm * PX_PER_MM < 2:
            return mark
        rows = np.arange(mark.shape[0]) / PX_PER_MM
        phase = np.abs((rows / hatch.interval_mm) % 1 - 0.5) * 2
        band = np.clip((cover - phase) * 4 + 0.5, 0, 1).astype(np.float32)
        return np.asarray(np.clip(mark * (band / max(0.05, float(band.mean())))[:, None], 0, 1), dtype=np.float32)

    def _harm(self, burned: "_Burned") -> float:
        """Paint the harm of a fill; return the share of it that is harmed."""
        window, density = burned.window, burned.harm
        kind = self.material.harm
        if kind in SPREAD_HARMS:
            return self._halo(burned)
        if kind in (Harm.CHIPS, Harm.PINHOLES):
            self._blobs(window, density, (0.07, 0.3) if kind is Harm.CHIPS else (0.06, 0.2))
        else:
            grain = _field(cv2.GaussianBlur(self.rng.standard_normal(density.shape), (0, 0), 0.16 * PX_PER_MM))
            grain = grain / max(1e-9, float(grain.std()))
            # A share p of a normal field lies above its upper p quantile, here by Tocher's logistic approximation.
            level = np.log((1 - density) / np.maximum(density, 1e-9)) / 1.702
            self.harm[window] = np.maximum(self.harm[window], (grain > level).astype(np.float32))
        if kind is Harm.PINHOLES and burned.excess > 0.3:
            self.brown[window] = np.maximum(self.brown[window], min(0.8, 1.2 * (burned.excess - 0.3)))
        return float(self.harm[window].sum() / max(1.0, float(burned.lit.sum())))

    def _blobs(self, window: tuple[slice, slice], density: NDArray[np.float64], radii: tuple[float, float]) -> None:
        patch = np.zeros(density.shape, dtype=np.uint8)
        mean_area = math.pi * float(np.mean(np.square(radii)))
        count = self.rng.poisson(float(density.mean()) * density.size / PX_PER_MM**2 / mean_area)
        weights = density.ravel() / density.sum()
        for place in self.rng.choice(density.size, count, p=weights):
            row, column = (int(at) for at in divmod(int(place), density.shape[1]))
            radius = self.rng.uniform(*radii) * PX_PER_MM
            axes = (max(1, round(radius * self.rng.uniform(0.7, 1.4))), max(1, round(radius)))
            cv2.ellipse(patch, (column, row), axes, float(self.rng.uniform(0, 180)), 0, 360, 255, -1, cv2.LINE_AA)
        self.harm[window] = np.maximum(self.harm[window], patch / np.float32(255))

    def _halo(self, burned: "_Burned") -> float:
        """What spreads beside the mark: darkened glaze, welded debris, an undercut edge."""
        window = burned.window
        strength = float(np.clip(0.02 * np.exp(min(12 * burned.excess, 4.0)), 0, 0.4))
        reach_mm = {Harm.SPREAD: 0.9, Harm.HAZE: 1.3, Harm.UNDERCUT: 0.45}[self.material.harm]
        grown = round(2 * reach_mm * PX_PER_MM)
        rows = slice(max(0, window[0].start - grown), window[0].stop + grown)
        columns = slice(max(0, window[1].start - grown), window[1].stop + grown)
        inside = np.zeros(self.mark[rows, columns].shape, dtype=np.uint8)
        inside[
            window[0].start - rows.start : window[0].stop - rows.start,
            window[1].start - columns.start : window[1].stop - columns.start,
        ] = burned.lit > _LIT
        away = cv2.distanceTransform(1 - inside, cv2.DIST_L2, 3) / PX_PER_MM
        rough = cv2.GaussianBlur(self.rng.standard_normal(inside.shape).astype(np.float32), (0, 0), 3)
        ring = np.exp(-((away / reach_mm) ** 2)) * (1 + 2.5 * rough) * (1 - inside)
        value = np.clip(min(1.0, 9 * strength) * ring, 0, 1).astype(np.float32)
        self.halo[rows, columns] = np.maximum(self.halo[rows, columns], value)
        return strength

    def _stroke(self, trace: Trace) -> None:
        m = self.material
        waist, watts = self.beam.waist_mm(trace.height_mm), self.beam.watts(trace.power)
        box = (min(trace.x0, trace.x1), min(trace.y0, trace.y1), max(trace.x0, trace.x1), max(trace.y0, trace.y1))
        film = self._film_at(box, (3, 3))
        if m.way is Way.HEAT:
            index = float(heating(m, watts, trace.speed_mm_s, waist, film).mean())
        else:
            energy = watts / (trace.speed_mm_s * 2 * waist)
            index = float((m.film_um / np.maximum(film, 0.3)).mean() * energy / m.remove_j_mm2)
        if index <= 0.9:
            return
        spread = math.sqrt(2 * (waist**2 + 8 * m.alpha * waist / trace.speed_mm_s))
        width_mm = (spread if m.way is Way.HEAT else waist) * math.sqrt(2 * math.log(max(1.05, index)))
        if m.harm is Harm.SPREAD and index > m.harm_ratio:
            width_mm *= 1 + 1.5 * (index / m.harm_ratio - 1)
        rows = self.mark.shape[0]
        # Drawn four times finer by cv2's fixed-point coordinates, so that a stroke of 0.1 mm keeps its place.
        points = np.array([[trace.x0, trace.y0], [trace.x1, trace.y1]]) * PX_PER_MM
        ends = np.round(np.stack([points[:, 0], rows - points[:, 1]], axis=1) * 16 - 8).astype(np.int32)
        pad = 4 + round(width_mm * PX_PER_MM)
        low, high = ends.min(axis=0) // 16 - pad, ends.max(axis=0) // 16 + pad + 1
        low = np.maximum(low, 0)
        part = self.mark[low[1] : high[1], low[0] : high[0]]
        if part.size == 0:
            return
        canvas = np.zeros(part.shape, dtype=np.uint8)
        level = 255 * min(1.0, (index - 0.85) / 0.35)
        a, b = (tuple(int(v) for v in end - low * 16) for end in ends)
        cv2.line(canvas, a, b, level, max(1, round(width_mm * PX_PER_MM)), cv2.LINE_AA, 4)
        part[...] = np.maximum(part, canvas / np.float32(255))

    def turn(self, degrees: float) -> None:
        """Turn what was burned counterclockwise about the middle: so the piece lay askew under the head."""
        rows, columns = self.mark.shape
        matrix = cv2.getRotationMatrix2D(((columns - 1) / 2, (rows - 1) / 2), degrees, 1.0)
        for name in ("mark", "harm", "halo", "brown"):
            setattr(self, name, _field(cv2.warpAffine(getattr(self, name), matrix, (columns, rows))))

    def _pit(self, stand: Stand) -> None:
        """A dot where the beam stood: as wide as its heat got, harmed in its middle where it got too hot."""
        m = self.material
        waist = self.beam.waist_mm(stand.height_mm)
        index = standing(m, self.beam.watts(stand.power), waist, stand.seconds)
        if index <= 1:
            return
        spread_mm = math.sqrt(waist**2 + 4 * m.alpha * min(stand.seconds, _SPREADS_S))
        rows = self.mark.shape[0]
        at = (round(stand.x * PX_PER_MM), round(rows - stand.y * PX_PER_MM))
        for field, over in ((self.mark, index), (self.harm, index / m.harm_ratio)):
            if over > 1:
                radius = spread_mm * math.sqrt(math.log(over) / 2)
                cv2.circle(field, at, max(1, round(radius * PX_PER_MM)), 1.0, -1)

    def look(self) -> Field:
        """How the washed piece looks straight on: linear reflectance, (rows, columns, 3)."""
        look, m = self.material.look, self.material
        ground, full = _field(look.ground), _field(look.mark)
        shade = cv2.GaussianBlur(self.rng.standard_normal(self.mark.shape).astype(np.float32), (0, 0), 1.2)
        mark = self.mark[..., None]
        face = ground + (full * (1 + 0.10 * shade[..., None]) - ground) * mark
        tone = {Harm.SPREAD: full, Harm.HAZE: _field((0.26, 0.26, 0.25)), Harm.UNDERCUT: full}.get(m.harm)
        if tone is not None:
            halo = self.halo[..., None] * (1 - mark)
            face = face * (1 - halo) + tone * halo
        harm = self.harm[..., None]
        if m.harm is Harm.CHIPS:
            # A chip glints on one side and is a shadow on the other.
            slope = cv2.Sobel(cv2.GaussianBlur(self.harm, (0, 0), 1.5), cv2.CV_32F, 1, 0, ksize=3)
            tone_here = np.where(slope[..., None] >= 0, _field(look.harm), _field(look.ground) * 1.5)
            face = face * (1 - harm) + tone_here * harm
        else:
            face = face * (1 - harm) + _field(look.harm) * harm
        if self.brown.any():
            brown = self.brown[..., None] * mark * (1 - harm)
            face = face * (1 - brown) + _field((0.26, 0.17, 0.08)) * brown
        return np.asarray(np.clip(face, 0, 1), dtype=np.float32)
