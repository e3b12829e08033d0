"""A maker who looks at a washed piece: a word for it, and what is wrong with it in the words that makers tick.

Looks at the piece itself beside the drawing, in bands and millimetre squares; notices most, not all, and sometimes what
is not there.
"""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from keencoat.bench.plant.materials import Harm
from keencoat.bench.plant.piece import PX_PER_MM, BurnedPiece, seen_share
from keencoat.bench.plant.truth import PlantRating

Field = NDArray[np.float32]

NOTICES, IMAGINES = 0.9, 0.008
_BAND_SHIFT_MM, _PLACE_MM, _JUMP_MM, _COMB_MM, _SOFT_MM, _MARKED = 7.0, 0.7, 0.45, 0.09, 0.15, 0.3
_LIT = 0.5
_OF_HARM = {
    Harm.CHIPS: ("chips", "rough"),
    Harm.SPREAD: ("detail_lost",),
    Harm.BASE: ("base_damaged",),
    Harm.PINHOLES: ("pinholes",),
    Harm.HAZE: ("haze",),
    Harm.RESIDUE: ("residue",),
    Harm.UNDERCUT: ("undercut",),
}


@dataclass(frozen=True)
class Looked:
    """A word for the piece, None where it was spoilt otherwise; what was noticed, and what truly was there."""

    word: PlantRating | None
    signs: frozenset[str]
    there: frozenset[str]

    @property
    def fine(self) -> bool:
        """Whether there is nothing to explain."""
        return self.word is PlantRating.CLEAN and not self.signs & self.there


def look_over(piece: BurnedPiece, meant: Field, rng: np.random.Generator, ticks: tuple[str, ...]) -> Looked:
    """Look at a piece on which `meant` (1 where it was to be marked, upper left first) was burned; `ticks` is what can
    be ticked."""
    # A chip is not taken for a coat that was left.
    seen = np.asarray(seen_share(piece.material.look, piece.mark), dtype=np.float32)
    lies = _places(seen, meant)
    there = _signs_of_place(lies)
    bent = bool(there & {"askew", "doubled", "wrong_size"})
    # What is bent is looked at by itself: no drawing lies on it.
    laid = np.asarray(cv2.blur(seen, (5, 5)) > _MARKED, dtype=np.float32) if bent else _laid(meant, lies)
    if not bent:
        there |= _signs_of_tone(seen, laid)
    soft = np.asarray(cv2.blur(seen, (5, 5)), dtype=np.float32)
    if not bent and _soft_mm(soft, laid, 1) - _soft_mm(soft, laid, 0) > _COMB_MM:
        there.add("combed")
    word: PlantRating | None = _word(piece, seen, laid)
    if word is PlantRating.HARSH:
        there |= set(_OF_HARM[piece.material.harm])
        if piece.brown.max() > 0:
            there.add("brown")
    if there & {"off_place", "askew", "wrong_size", "doubled", "combed"} and rng.random() < 0.6:
        word = None
    noticed = {s for s in ticks if rng.random() < (NOTICES if s in there else IMAGINES)}
    return Looked(word, frozenset(noticed), frozenset(there))


def _word(piece: BurnedPiece, seen: Field, meant: Field) -> PlantRating:
    lit = cv2.erode(meant, np.ones((5, 5))) > 0.5
    if not lit.any():
        return PlantRating.FAINT
    if float(piece.harm[lit].mean()) >= 0.02 or float(piece.halo.max()) > 0.2:
        return PlantRating.HARSH
    inside = cv2.blur(seen, (5, 5))[lit]
    if float(inside.mean()) < 0.8 or float((inside < 0.4).mean()) > 0.06:
        return PlantRating.FAINT
    return PlantRating.CLEAN


@dataclass(frozen=True)
class _Lies:
    """Shifts in mm, right and down, of the upper and lower, the left and right half of the mark."""

    upper: tuple[float, float]
    lower: tuple[float, float]
    left: tuple[float, float]
    right: tuple[float, float]

    @property
    def mean(self) -> tuple[float, float]:
        """That of the whole."""
        x, y = (np.mean([s[n] for s in (self.upper, self.lower, self.left, self.right)]) for n in (0, 1))
        return float(x), float(y)


def _places(seen: Field, meant: Field) -> _Lies:
    if float(seen[meant > _LIT].mean()) < _MARKED:
        return _Lies(*[(0.0, 0.0)] * 4)
    rows, columns = np.flatnonzero(meant.any(axis=1)), np.flatnonzero(meant.any(axis=0))
    middle_y, middle_x = int(rows.mean()), int(columns.mean())
    halves = []
    for part in (np.s_[:middle_y, :], np.s_[middle_y:, :], np.s_[:, :middle_x], np.s_[:, middle_x:]):
        halves.append(_shift(seen, np.where(_only(meant, part), meant, 0)))
    return _Lies(*halves)


def _only(meant: Field, part: tuple[slice, slice]) -> NDArray[np.bool_]:
    mask = np.zeros(meant.shape, dtype=bool)
    mask[part] = True
    return mask


def _shift(seen: Field, part: Field) -> tuple[float, float]:
    """Where a part of the drawing is found again, within reach."""
    scale = 2
    reach = round(_BAND_SHIFT_MM * PX_PER_MM / scale)
    small, template = (
        cv2.resize(f, (f.shape[1] // scale, f.shape[0] // scale), interpolation=cv2.INTER_AREA) for f in (seen, part)
    )
    ys, xs = np.flatnonzero(template.any(axis=1)), np.flatnonzero(template.any(axis=0))
    # Bare ground round it belongs to it, as far as nothing else was drawn there.
    cut = template[ys[0] : ys[-1] + 1, xs[0] : xs[-1] + 1]
    about = np.pad(small, reach)
    window = about[ys[0] : ys[-1] + 1 + 2 * reach, xs[0] : xs[-1] + 1 + 2 * reach]
    likeness = cv2.matchTemplate(window, cut, cv2.TM_CCOEFF_NORMED)
    _, best, _, at = cv2.minMaxLoc(likeness)
    if best < 0.5:
        return 0.0, 0.0
    return (at[0] - reach) * scale / PX_PER_MM, (at[1] - reach) * scale / PX_PER_MM


def _signs_of_place(lies: _Lies) -> set[str]:
    found = set()
    x, y = lies.mean
    turn = (lies.right[1] - lies.left[1], lies.lower[0] - lies.upper[0])
    jump = max(abs(lies.lower[0] - lies.upper[0]), abs(lies.lower[1] - lies.upper[1]))
    wider = lies.right[0] - lies.left[0]
    if min(abs(turn[0]), abs(turn[1])) > _JUMP_MM / 1.5 and turn[0] * turn[1] < 0:
        found.add("askew")
    elif abs(wider) > max(_JUMP_MM, jump):
        found.add("wrong_size")
    elif jump > _JUMP_MM:
        found.add("doubled")
    elif np.hypot(x, y) > _PLACE_MM:
        found.add("off_place")
    return found


def _laid(meant: Field, lies: _Lies) -> Field:
    """The drawing where the mark lies."""
    x, y = lies.mean
    matrix = np.array([[1, 0, x * PX_PER_MM], [0, 1, y * PX_PER_MM]], dtype=np.float32)
    return np.asarray(cv2.warpAffine(meant, matrix, (meant.shape[1], meant.shape[0])), dtype=np.float32)


def _signs_of_tone(seen: Field, meant: Field) -> set[str]:
    inner = cv2.erode(meant, np.ones((7, 7))) > 0.5
    if not inner.any():
        return set()
    mean = float(seen[inner].mean())
    if mean < 0.08:
        return {"no_mark", "coat_left"}
    squares, valid = _squares(seen, inner)
    usual = float(np.quantile(squares[valid], 0.7))
    rel = np.where(valid, squares / max(usual, 0.05), 1.0)
    found = set()
    if mean < 0.75:
        found.add("coat_left")
    if float(rel[valid].std()) > 0.18:
        found.add("patchy")
    missing = (valid & (rel < 0.5)).astype(np.uint8)
    count, _, stats, _ = cv2.connectedComponentsWithStats(missing, connectivity=8)
    largest = max((int(stats[n, cv2.CC_STAT_AREA]) for n in range(1, count)), default=0)
    ys, xs = np.nonzero(valid)
    terms = np.stack([np.ones(len(ys)), ys / valid.shape[0] - 0.5, xs / valid.shape[1] - 0.5], axis=1)
    slopes = np.linalg.lstsq(terms, rel[valid], rcond=None)[0][1:]
    if 5 <= largest < 0.6 * valid.sum() and largest > 0.5 * missing.sum():
        found.add("patch_missing")
    elif float(np.abs(slopes).max()) > 0.5:
        found.add("fades")
    if _streaky(rel, valid & (rel > 0.5)) > 0.08:
        found.add("streaks")
    if _striped(seen, inner) > 0.16:
        found.add("stripes")
    if mean > 0.7 and "patch_missing" not in found and _fine_missing(seen, inner) > 0.012:
        found.add("fine_lines")
    if min(_soft_mm(seen, meant, 0), _soft_mm(seen, meant, 1)) > _SOFT_MM:
        found.add("soft")
    return found


def _squares(seen: Field, inner: NDArray[np.bool_]) -> tuple[NDArray[np.float64], NDArray[np.bool_]]:
    """Means of the marked part of millimetre squares, and which have enough of it."""
    rows, columns = (side // PX_PER_MM for side in seen.shape)

    def summed(face: NDArray[np.float64]) -> NDArray[np.float64]:
        cut = face[: rows * PX_PER_MM, : columns * PX_PER_MM]
        return np.asarray(cut.reshape(rows, PX_PER_MM, columns, PX_PER_MM).sum(axis=(1, 3)))

    area = summed(inner.astype(float))
    return summed(np.where(inner, seen, 0.0)) / np.maximum(area, 1), area > PX_PER_MM**2 / 2


def _streaky(rel: NDArray[np.float64], valid: NDArray[np.bool_]) -> float:
    """How much rows, or columns, of squares swing against their neighbours, beyond what squares do by themselves."""
    best = 0.0
    for face, mask in ((rel, valid), (rel.T, valid.T)):
        weight = mask.sum(axis=1)
        lines = np.where(weight > 3, (face * mask).sum(axis=1) / np.maximum(weight, 1), np.nan)
        kept = lines[~np.isnan(lines)]
        if len(kept) > 6:
            smooth = np.convolve(np.pad(kept, 3, mode="edge"), np.ones(7) / 7, mode="valid")
            best = max(best, float((kept - smooth).std()))
    return best


def _striped(seen: Field, inner: NDArray[np.bool_]) -> float:
    """Swing of single rows of pixels against half a millimetre about them."""
    weight = inner.sum(axis=1)
    lines = (seen * inner).sum(axis=1) / np.maximum(weight, 1)
    kept = lines[weight > PX_PER_MM]
    if len(kept) < 12:
        return 0.0
    return float((kept - np.convolve(np.pad(kept, 4, mode="edge"), np.ones(9) / 9, mode="valid")).std())


def _fine_missing(seen: Field, inner: NDArray[np.bool_]) -> float:
    """Share of the mark that is missing in lines finer than half a millimetre."""
    gone = ((cv2.blur(seen, (3, 3)) < 0.35) & inner).astype(np.uint8)
    wide = cv2.morphologyEx(gone, cv2.MORPH_OPEN, np.ones((PX_PER_MM // 2,) * 2, np.uint8))
    about = cv2.dilate(wide, np.ones((PX_PER_MM // 2,) * 2, np.uint8))
    return float(((gone > 0) & (about == 0)).sum() / inner.sum())


def _soft_mm(seen: Field, meant: Field, axis: int) -> float:
    """Width of half-marked ground beside edges that cross this axis, over what a sharp beam leaves, mm."""
    step = np.abs(np.diff(meant, axis=axis)) > 0.5
    edges = int(step.sum())
    if not edges:
        return 0.0
    reach = 2 * PX_PER_MM + 1
    kernel = np.ones((reach, 1) if axis == 0 else (1, reach), np.uint8)
    near = cv2.dilate(np.pad(step.astype(np.uint8), ((0, 1), (0, 0)) if axis == 0 else ((0, 0), (0, 1))), kernel) > 0
    beside = near & (meant < 0.5)
    soft = (seen > 0.12) & (seen < 0.75) & beside
    spilt = (seen >= 0.75) & beside
    return float((soft.sum() + 0.5 * spilt.sum()) / edges / PX_PER_MM)
