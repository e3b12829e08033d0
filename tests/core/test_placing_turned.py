"""Programs through a turning device: the beam goes over the wall at the setting's own speed and energy, worked out anew
from what the axes do."""

import math
from dataclasses import replace

import numpy as np
import pytest
from gcodeparser import parse_gcode_lines

from keencoat.core.errors import BadValueError
from keencoat.core.placing.turned import Turned, TurnedProgram
from keencoat.core.placing.turning import StandsInFor, TurningDevice, TurningKind
from keencoat.core.placing.wall import ArtOnWall, ArtWay, TaperedWall
from keencoat.core.quantities.setting import Setting
from keencoat.core.toolpath import (
    DotRaster,
    Item,
    Part,
    Polylines,
    StrainError,
    burn_time_s,
    energy_on_piece_j,
    write_gcode,
)
from tests.core.conftest import make_machine

MACHINE = make_machine(max_speed_mm_s=200, accel_mm_s2=2000)
SETTING = Setting(40, 50, 0.5)
ITEM = Item(Part.ARTWORK)
CYLINDER, TAPER = TaperedWall(80, 80, 100), TaperedWall(80, 60, 100.499)
ON_X, ON_Y = (TurningDevice(TurningKind.CHUCK, 120, axis) for axis in StandsInFor)
FACE = (math.pi * 60, 100.0)


def program(across):
    """A filled patch of 20 × 12 mm, its corner at (90, 40) of the face, or at (48, 90) of one that lies across."""
    left, low = (48.0, 90.0) if across else (90.0, 40.0)
    columns, rows = (24, 40) if across else (40, 24)
    return DotRaster(np.ones((rows, columns), dtype=bool), left, low, 0.5, SETTING, MACHINE, ITEM)


def through(device, wall=TAPER, way=ArtWay.LEVEL, what=None, **more):
    across = device.stands_in_for is StandsInFor.Y
    art = ArtOnWall(wall, way, wall.slant_mm / 2)
    turned = Turned(art, device, max(wall.below_mm, wall.above_mm), FACE, across)
    return TurnedProgram(what or program(across), replace(turned, **more))


def on_wall(turned, moves):
    """Where on the wall each move ends: mm along it, its radius there and radians of turn, from the axes alone."""
    device = turned.device
    axis, along = (moves.x_mm, moves.y_mm) if device.stands_in_for is StandsInFor.X else (moves.y_mm, moves.x_mm)
    wall = turned.art.wall
    radius = (wall.below_mm + (wall.above_mm - wall.below_mm) * along / wall.slant_mm) / 2
    return along, radius, axis / device.mm_per_turn * 2 * np.pi


def lit_parts(made):
    """Every lit move of a program: its length on the wall, how long it takes, its power, the radius in its middle."""
    parts = []
    for task in made:
        m = task.moves
        along, radius, turn = on_wall(made.turned, m)
        middle = (radius[1:] + radius[:-1]) / 2
        wall_mm = np.hypot(np.diff(along), np.diff(turn) * middle)
        seconds = np.hypot(np.diff(m.x_mm), np.diff(m.y_mm)) / m.speed_mm_s[1:]
        lit = m.power_pct[1:] > 0
        parts.append(np.column_stack([wall_mm, seconds, m.power_pct[1:], middle])[lit])
    return np.concatenate(parts)


@pytest.mark.parametrize("device", [ON_X, ON_Y])
@pytest.mark.parametrize("wall", [CYLINDER, TAPER, TaperedWall(60, 80, 100.499)])
@pytest.mark.parametrize("way", list(ArtWay))
def test_the_beam_goes_over_the_wall_at_the_settings_speed(device, wall, way):
    wall_mm, seconds, _, _ = lit_parts(through(device, wall, way)).T
    assert wall_mm / seconds == pytest.approx(np.full(len(wall_mm), 50), rel=2e-3)


def test_lines_along_a_taper_are_burned_stronger_where_they_spread():
    """A line's share of the turn is 0.5 mm at Ø 70, on the wall 0.5·r/35 mm wide: P/(v·h) is the same all along."""
    parts = lit_parts(through(ON_Y))
    assert parts[:, 2] / (parts[:, 3] / 35) == pytest.approx(np.full(len(parts), 40), rel=0.011)
    assert parts[:, 2].max() / parts[:, 2].min() > 1.02
    area = (parts[:, 0] * 0.5 * parts[:, 3] / 35).sum()
    energy = (MACHINE.rated_w * parts[:, 2] / 100 * parts[:, 1]).sum()
    assert energy / area == pytest.approx(MACHINE.rated_w * 0.4 / (50 * 0.5), rel=2e-3)
    # Rows round the piece lie as far apart everywhere: their power stays, their feed follows.
    rows = lit_parts(through(ON_X))
    assert set(rows[:, 2]) == {40}
    feeds = {round(float(s), 2) for task in through(ON_X) for s in task.moves.speed_mm_s[2:3]}
    assert min(feeds) == pytest.approx(50 * 120 / (math.pi * 72.389), rel=1e-2)
    strong = through(ON_Y, what=replace(program(True), setting=Setting(99, 50, 0.5)))
    with pytest.raises(StrainError, match=r"101\.8 % power"):
        write_gcode(strong, MACHINE, "too strong", turns="y")


def test_where_a_patch_lands_on_a_cylinder():
    """Its middle is 100 − 94.25 mm beside the face's own, 46 − 50 mm below it; a turn is 120 mm of the axis."""
    for device in (ON_X, ON_Y):
        moves = [task.moves for task in through(device, CYLINDER)]
        along, _, turn = on_wall(through(device, CYLINDER).turned, moves[0])
        lit = np.concatenate([[False], moves[0].power_pct[1:] > 0])
        assert along[lit].min() >= 40 - 1e-9
        assert along[lit].max() <= 52 + 1e-9
        assert np.abs(turn[lit] * 40 - 5.752).max() < 10.5
    middle = np.mean([m for task in through(ON_X, CYLINDER) for m in task.moves.x_mm])
    assert middle == pytest.approx((100 - FACE[0] / 2) * 120 / (math.pi * 80), abs=0.1)
    back = through(replace(ON_X, backwards=True), CYLINDER)
    assert np.mean([m for task in back for m in task.moves.x_mm]) == pytest.approx(-middle, abs=0.1)
    rollers = TurningDevice(TurningKind.ROLLERS, 120, StandsInFor.X, roller_mm=40)
    twice = through(rollers, CYLINDER)
    assert np.mean([m for task in twice for m in task.moves.x_mm]) == pytest.approx(2 * middle, abs=0.1)


def test_straight_lines_bend_on_the_wall_by_parts_that_hardly_stray():
    """One line of 60 mm, level in the drawing: on the wall its ends lie 1.277 mm lower than its middle, and no place
    on it strays by more than 0.02 mm from where the drawing has it."""
    middle = FACE[0] / 2
    line = Polylines((((middle - 30, 50.0), (middle + 30, 50.0)),), SETTING, MACHINE, ITEM)
    made = through(ON_X, way=ArtWay.STRAIGHT, what=line)
    (task,) = list(made)
    along, radius, turn = on_wall(made.turned, task.moves)
    assert len(task.moves) > 8
    assert along[0] == pytest.approx(TAPER.slant_mm / 2 - 1.277, abs=2e-3)
    assert along.max() == pytest.approx(TAPER.slant_mm / 2, abs=0.03)
    art = made.turned.art
    for a, b in zip(range(len(along) - 1), range(1, len(along)), strict=True):
        at = np.array([(along[a] + along[b]) / 2]), np.degrees(np.array([(turn[a] + turn[b]) / 2]))
        assert abs(float(art.off(*at)[1][0])) < 0.02
    assert task.moves.stops.tolist() == [True] + [False] * (len(along) - 2) + [True]
    level = next(iter(through(ON_X, what=line)))
    assert len(level.moves) == 2
    assert np.ptp(level.moves.y_mm) == 0
    assert radius[0] > 35 - 1e-9


def test_a_turned_program_is_gone_through_anew_and_written():
    made = through(ON_Y)
    assert [t.moves.x_mm.tolist() for t in made] == [t.moves.x_mm.tolist() for t in made]
    assert burn_time_s(made.for_time(), MACHINE) == pytest.approx(burn_time_s(made, MACHINE))
    assert energy_on_piece_j(made, MACHINE) > 0
    text = write_gcode(made, MACHINE, "cloche", zero="the wall's lower end, the mark uppermost")
    assert "zero: the wall's lower end, the mark uppermost" in text.replace("\n", " ")
    lit = [line for line in parse_gcode_lines(text) if line.command_str == "G1" and line.params.get("S")]
    ys = [m for task in made for m in task.moves.y_mm]
    assert {line.params["Y"] for line in lit if "Y" in line.params} <= {round(y, 3) for y in ys}


def test_a_device_that_cannot_follow_the_lines_is_refused():
    for device in (ON_X, ON_Y):
        wrong = device.stands_in_for is StandsInFor.X
        with pytest.raises(BadValueError, match=f"stands in for {device.stands_in_for.upper()}"):
            Turned(ArtOnWall(TAPER, ArtWay.LEVEL, 50), device, 80, FACE, wrong)


def test_each_task_goes_on_from_where_the_last_one_ended():
    what = [*program(False), *program(False)]
    made = through(ON_X, what=what)
    ended, begins = what[-1].moves, what[0].moves
    expected = made.turned.moves(begins, (float(ended.x_mm[-1]), float(ended.y_mm[-1])))
    again = list(made)[len(what) // 2].moves
    assert again.speed_mm_s.tolist() == expected.speed_mm_s.tolist()
    assert again.speed_mm_s.tolist() != made.turned.moves(begins, (0.0, 0.0)).speed_mm_s.tolist()
