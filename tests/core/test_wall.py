"""Where a phone stands before a round wall: OpenCV's own projection is the world, SciPy's rotations make the wall."""

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from keencoat.core.reading.wall import Bend, Marks, flat_on, place_from_corners, place_from_sides

SIZE = (2000, 1500)
CORNERS = np.array([[-17.0, 22.0], [17.0, 22.0], [17.0, -22.0], [-17.0, -22.0]])


def wall_points(points_mm, below_mm, above_mm, slant_mm):
    """Points of a face wrapped round a wall: each is carried up the wall's line and turned about the axis."""
    narrow = min(below_mm, above_mm) / 2
    up = points_mm[:, 1] / slant_mm + 0.5
    radius = (below_mm + up * (above_mm - below_mm)) / 2
    height = np.sqrt(slant_mm**2 - ((below_mm - above_mm) / 2) ** 2)
    before = np.stack([np.zeros(len(up)), (up - 0.5) * height, radius], axis=1)
    return Rotation.from_euler("y", (points_mm[:, 0] / narrow)[:, None]).apply(before)


def seen(points, tilt, roll, away, aside, focal):
    """Where OpenCV sees them, in pixels."""
    turn = Rotation.from_euler("z", roll) * Rotation.from_euler("xy", tilt) * Rotation.from_euler("x", np.pi)
    camera = np.array([[focal, 0, (SIZE[0] - 1) / 2], [0, focal, (SIZE[1] - 1) / 2], [0, 0, 1]])
    step = np.array([*aside, away])
    return cv2.projectPoints(points, turn.as_rotvec(), step, camera, None)[0][:, 0]


def lines(count):
    """So many points along each side of the frame."""
    steps = np.linspace(0.06, 0.94, count)[:, None]
    return [a + steps * (b - a) for a, b in zip(CORNERS, np.roll(CORNERS, -1, axis=0), strict=True)]


tilts = st.floats(-0.15, 0.15)
poses = st.tuples(st.tuples(tilts, tilts), st.floats(-3, 3), st.floats(0.8, 2.2), st.floats(120, 350))


@settings(max_examples=40, deadline=None)
@given(poses, st.sampled_from([(44.0, 44.0), (84.0, 66.0), (60.0, 72.0)]), st.floats(-8, 8), st.integers(0, 1000))
def test_the_sides_of_a_frame_tell_where_its_inside_is_seen(pose, ends, shift, luck):
    tilt, roll, zoom, away = pose
    below, above = ends
    slant, focal = 110.0, zoom * SIZE[0]
    there = seen(wall_points(CORNERS, below, above, slant), tilt, roll, away, (shift, -shift), focal)
    px_per_mm = np.linalg.norm(there[1] - there[2]) / 44
    rng = np.random.default_rng(luck)
    sides = [
        seen(wall_points(side, below, above, slant), tilt, roll, away, (shift, -shift), focal)
        + rng.normal(0, 0.3, (60, 2))
        for side in lines(60)
    ]
    bend = Bend(min(ends) / 2, sum(ends) / 4, (above - below) / 2 / slant)
    ticks = np.array([[-8.0, -21.0], [0.0, -21.0], [8.0, -21.0], [16.0, -8.0], [16.0, 8.0]])
    marks = seen(wall_points(ticks, below, above, slant), tilt, roll, away, (shift, -shift), focal)
    marks += rng.normal(0, 0.5, marks.shape)
    ways = there[[2, 2, 2, 1, 1]] - there[[3, 3, 3, 2, 2]]
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    phone = flat_on(CORNERS, there, bend, SIZE)
    for _ in range(3):
        phone = place_from_sides(phone, CORNERS, sides, bend, Marks(ticks, marks, ways))
    inside = np.stack(np.meshgrid(np.linspace(-15, 15, 7), np.linspace(-20, 20, 7)), axis=-1).reshape(-1, 2)
    truly = seen(wall_points(inside, below, above, slant), tilt, roll, away, (shift, -shift), focal)
    off_mm = np.linalg.norm(phone.seen(bend.on_wall(inside)) - truly, axis=1) / px_per_mm
    assert off_mm.max() < 0.2
    assert np.median(off_mm) < 0.1


def test_corners_alone_tell_about_where():
    bend = Bend(22.0, 22.0)
    there = seen(wall_points(CORNERS, 44.0, 44.0, 90.0), (0.05, -0.03), 0.2, 200.0, (2.0, 1.0), 2200.0)
    phone = place_from_corners(CORNERS, there, bend, SIZE)
    assert phone.seen(bend.on_wall(CORNERS)) == pytest.approx(there, abs=1.0)
    twice = phone.at_size(0.5).seen(bend.on_wall(CORNERS))
    assert twice == pytest.approx((there + 0.5) / 2 - 0.5, abs=1.0)
