"""Things of a shape in a photo: every four-sided or round thing that stands out, by all thresholds at once.

A single threshold fails where the bench has a pattern, the light box a rim or the glass an edge of its own. So a ladder
of thresholds is tried, light on dark and dark on light; what keeps its shape over several of them is a candidate
(maximally stable regions; Matas 2002), and its border is then looked at, point by point.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import cv2
import numpy as np

from keencoat.core.vision.photo import Floats
from keencoat.core.vision.quads import ellipse_points, fit_corners, rim_points

_LEVELS = 22
_LEAST_AREA, _MOST_AREA = 0.04, 0.97
_LEAST_TRUST = 0.90
_ALIKE = 0.02
_EDGE_POINTS = 40


@dataclass(frozen=True, eq=False)
class Candidate:
    """A thing: its four points (4, 2) in px of the picture searched, how well the shape fits it (0…1), its share of the
    picture, over how many thresholds it kept its shape; and its border: the middle step in ln light from outside to
    inside, the share of the border that has a step of that sign, and the middle ln light just inside against that of
    its whole inside."""

    points: np.ndarray
    trust: float
    area: float
    levels: int
    step: float
    support: float
    filled: float


def candidates(ln_light: Floats, round_shape: bool) -> list[Candidate]:
    """All candidates in a picture of ln light (height, width), the largest first."""
    seen: list[tuple[np.ndarray, float, float, int]] = []
    for rim, thing in _things(ln_light):
        points = _points(rim, round_shape)
        if points is None:
            continue
        trust = _overlap(points, thing, round_shape)
        if trust < _LEAST_TRUST:
            continue
        size = np.linalg.norm(points[0] - points[2])
        for n, (known, known_trust, area, levels) in enumerate(seen):
            if np.abs(_round(points, round_shape) - _round(known, round_shape)).max() < _ALIKE * size:
                better = points if trust > known_trust else known
                seen[n] = (better, max(trust, known_trust), area, levels + 1)
                break
        else:
            seen.append((points, trust, _share(thing), 1))
    found = [Candidate(p, t, a, n, *_border(ln_light, p, round_shape)) for p, t, a, n in seen]
    return sorted(found, key=lambda c: -c.area)


def _things(ln_light: Floats) -> Iterator[tuple[np.ndarray, np.ndarray]]:
    """Every thing at every threshold: its rim, points (n, 1, 2), and its face without holes, 1 in it, else 0."""
    height, width = ln_light.shape
    least = _LEAST_AREA * ln_light.size
    levels = np.quantile(ln_light, np.linspace(0.02, 0.98, _LEVELS))
    spread = np.linspace(levels[0], levels[-1], _LEVELS)
    kernel = np.ones((5, 5), np.uint8)
    for level in np.unique(np.concatenate([levels, spread])):
        for mask in (ln_light < level, ln_light >= level):
            opened = cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_OPEN, kernel)
            for rim in cv2.findContours(opened, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)[0]:
                x, y, w, h = cv2.boundingRect(rim)
                if w * h < least or (x == 0) + (y == 0) + (x + w == width) + (y + h == height) >= 2:
                    continue
                thing = np.asarray(cv2.drawContours(np.zeros_like(opened), [rim], -1, 1, cv2.FILLED))
                # A hairline all round is no thing.
                solid = cv2.countNonZero(cv2.bitwise_and(thing, opened))
                if _LEAST_AREA <= _share(thing) <= _MOST_AREA and solid >= 0.5 * least:
                    yield rim, thing


def _share(thing: np.ndarray) -> float:
    """Of the picture's points, those that are the thing's."""
    return cv2.countNonZero(thing) / thing.size


def _points(rim: np.ndarray, round_shape: bool) -> np.ndarray | None:
    contour = rim[:, 0, :].astype(np.float32)
    hull = cv2.convexHull(contour)
    if round_shape:
        return rim_points(cv2.fitEllipse(hull)) if len(hull) >= 5 else None
    around = cv2.arcLength(hull, True)
    for share in np.linspace(0.01, 0.12, 23):
        polygon = cv2.approxPolyDP(hull, float(share) * around, True)
        if len(polygon) == 4:
            return fit_corners(contour, polygon[:, 0, :].astype(np.float64))
    return None


def _round(points: np.ndarray, round_shape: bool) -> np.ndarray:
    """What two outlines are compared by: their corners, or for an ellipse points all round it."""
    return ellipse_points(points, 12) if round_shape else points


def _overlap(points: np.ndarray, thing: np.ndarray, round_shape: bool) -> float:
    """Intersection over union of the fitted shape and the thing."""
    drawn = np.zeros_like(thing)
    outline = ellipse_points(points, 72) if round_shape else points
    cv2.fillPoly(drawn, [np.round(outline).astype(np.int32)], 1)
    return cv2.countNonZero(drawn & thing) / max(1, cv2.countNonZero(drawn | thing))


def border_points(points: np.ndarray, round_shape: bool, each: int = _EDGE_POINTS) -> tuple[np.ndarray, np.ndarray]:
    """Points along the border away from its corners, and the way out at each; both (4·each, 2)."""
    if round_shape:
        at = ellipse_points(points, 4 * each)
        along = np.roll(at, -1, axis=0) - np.roll(at, 1, axis=0)
    else:
        share = np.linspace(0.06, 0.94, each)[:, None]
        ends = np.roll(points, -1, axis=0)
        at = np.concatenate([a + share * (b - a) for a, b in zip(points, ends, strict=True)])
        along = np.concatenate([np.repeat((b - a)[None], each, axis=0) for a, b in zip(points, ends, strict=True)])
    out = np.stack([along[:, 1], -along[:, 0]], axis=1)
    return at, out / np.maximum(1e-9, np.linalg.norm(out, axis=1, keepdims=True))


def _border(ln_light: Floats, points: np.ndarray, round_shape: bool) -> tuple[float, float, float]:
    at, out = border_points(points, round_shape)
    reach = max(2.0, 0.008 * float(np.linalg.norm(points[0] - points[2])))
    inner = _sampled(ln_light, at - reach * out)
    steps = inner - _sampled(ln_light, at + reach * out)
    step = float(np.median(steps))
    support = float((np.sign(steps) * np.sign(step) * np.abs(steps) > 0.25 * abs(step)).mean())
    centre = points.mean(axis=0)
    whole = np.concatenate([_sampled(ln_light, centre + share * (at - centre)) for share in (0.35, 0.6, 0.85)])
    return step, support, float(np.median(inner) - np.median(whole))


def _sampled(picture: Floats, at: np.ndarray) -> Floats:
    found = cv2.remap(
        picture,
        at[:, 0].astype(np.float32)[None],
        at[:, 1].astype(np.float32)[None],
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    )
    return np.asarray(found[0])
