"""Four points of a shape, clockwise with y down: corners of a quadrilateral, or ends of conjugate diameters."""

from collections.abc import Sequence

import cv2
import numpy as np


def clockwise(points: np.ndarray) -> np.ndarray:
    """Points in clockwise order on the screen (y down), the one nearest the upper left first."""
    centre = points.mean(axis=0)
    order = np.argsort(np.arctan2(points[:, 1] - centre[1], points[:, 0] - centre[0]))
    points = points[order]
    return np.roll(points, -int(np.argmin(points.sum(axis=1))), axis=0)


def fit_corners(contour: np.ndarray, rough: np.ndarray) -> np.ndarray:
    """Four corners, clockwise from the one nearest the upper left: lines fitted to the contour's points along each
    side of `rough`, and where they meet. Shapes: `contour` (points, 2), `rough` and the result (4, 2), px."""
    return corners_of([line_through(side) for side in sides_of(contour, rough)])


def sides_of(contour: np.ndarray, rough: np.ndarray) -> list[np.ndarray]:
    """The contour's points along each side of `rough`, clockwise from the one after the corner nearest the upper left;
    where there are next to none, that side's ends."""
    sides = []
    rough = clockwise(rough)
    for start, end in zip(rough, np.roll(rough, -1, axis=0), strict=True):
        along = (end - start) / max(1e-6, float(np.linalg.norm(end - start)))
        offset = contour - start
        run = offset @ along / max(1e-6, float(np.linalg.norm(end - start)))
        away = np.abs(offset @ np.array([-along[1], along[0]]))
        near = contour[(run > 0.1) & (run < 0.9) & (away < 0.05 * float(np.linalg.norm(end - start)) + 3)]
        sides.append(np.stack([start, end]) if len(near) < 8 else near)
    return sides


def line_through(points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """A point of the line through points (n, 2), and its direction; outliers do not pull."""
    vx, vy, x0, y0 = cv2.fitLine(points.astype(np.float32), cv2.DIST_HUBER, 0, 0.01, 0.01).ravel()
    return np.array([x0, y0], dtype=np.float64), np.array([vx, vy], dtype=np.float64)


def corners_of(lines: list[tuple[np.ndarray, np.ndarray]]) -> np.ndarray:
    """Where four lines, in order, meet one another."""
    return clockwise(np.array([meet(lines[side - 1], lines[side]) for side in range(4)]))


def meet(one: tuple[np.ndarray, np.ndarray], other: tuple[np.ndarray, np.ndarray]) -> np.ndarray:
    """Where two lines, each a point and a direction, cross."""
    matrix = np.array([one[1], -other[1]]).T
    if abs(np.linalg.det(matrix)) < 1e-6:
        return other[0]
    run = np.linalg.solve(matrix, other[0] - one[0])[0]
    return np.asarray(one[0] + run * one[1])


def turned(points: np.ndarray, aspect: float) -> np.ndarray:
    """The points with the first side as the piece's width, where a photo on its side has it the other way round."""
    sides = np.linalg.norm(np.roll(points, -1, axis=0) - points, axis=1)
    seen = np.log((sides[0] + sides[2]) / (sides[1] + sides[3]))
    if abs(-seen - np.log(aspect)) + 0.1 < abs(seen - np.log(aspect)):
        return np.roll(points, 1, axis=0)
    return points


Ellipse = tuple[Sequence[float], Sequence[float], float]


def rim_points(ellipse: Ellipse) -> np.ndarray:
    """Top, right, bottom and left of an ellipse: ends of conjugate diameters, so that mapping them to a circle's is
    affine and turns nothing."""
    (x, y), (first, second), degrees = ellipse
    angle = np.deg2rad(degrees)
    turn = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    stretch = turn @ np.diag([first / 2, second / 2]) @ turn.T
    ways = np.array([[0, -1], [1, 0], [0, 1], [-1, 0]], dtype=np.float64)
    return np.asarray([x, y] + ways @ stretch.T)


def ellipse_points(points: np.ndarray, count: int) -> np.ndarray:
    """So many points clockwise round the ellipse of four rim points, from its right end on."""
    centre = points.mean(axis=0)
    ring = 2 * np.pi * np.arange(count) / count
    return np.asarray(
        centre
        + np.cos(ring)[:, None] * (points[1] - points[3]) / 2
        + np.sin(ring)[:, None] * (points[2] - points[0]) / 2
    )
