"""What functions over arrays make of nothing, of one thing, of figures that are none, and of shapes that do not fit."""

import math

import numpy as np
import pytest

from keencoat.core.errors import BadValueError
from keencoat.core.geometry.transform import Transform, offset, turn
from keencoat.core.quantities.setting import Setting
from keencoat.core.quantities.slice import Slice
from keencoat.core.toolpath.gcode import write_gcode
from keencoat.core.toolpath.program import NOTHING, Item, Part, Task, energy_on_piece_j, extent_of, joined, moves_of
from keencoat.core.toolpath.timing import burn_time_s, moves_time_s
from keencoat.core.vision.lightness import delta_e_2000, lightness
from keencoat.core.window.reach import Settings, crossed
from tests.core.conftest import make_machine

MACHINE = make_machine()
SETTING = Setting(50, 100, 0.1)


def test_a_program_of_nothing_takes_no_time_and_no_energy_and_has_no_extent():
    still = [Task(Item(Part.CELL, "A1"), SETTING, NOTHING)]
    for program in ([], still):
        assert energy_on_piece_j(program, MACHINE) == 0
        assert burn_time_s(program, MACHINE) == 0
        with pytest.raises(BadValueError, match="moves nothing"):
            extent_of(program)
    assert moves_time_s(NOTHING, MACHINE, (0.0, 0.0)) == 0
    assert len(joined([NOTHING, NOTHING])) == 0
    with pytest.raises(BadValueError, match="moves nothing"):
        write_gcode(still, MACHINE, "nothing")


def test_columns_of_moves_must_be_as_long_as_each_other():
    one, two = np.zeros(1), np.zeros(2)
    with pytest.raises(ValueError, match="differ in length"):
        moves_of(two, one, 100.0, 0.0, two > 0, two > 0)


def test_transforms_take_columns_of_any_length_and_keep_what_is_no_figure():
    for points in (np.zeros(0), np.zeros(1), np.array([1.0, math.nan, 3.0])):
        x, y = turn(30).then(offset(2, 3)).at(points, points)
        assert x.shape == y.shape == points.shape
        assert (np.isnan(x) == np.isnan(points)).all()
    with pytest.raises(ZeroDivisionError):
        Transform(xx=0.0, yy=0.0).back()


def test_lightness_and_colour_difference_keep_shapes():
    assert lightness(np.zeros((0, 3))).shape == (0, 3)
    assert lightness(np.array([-1.0, 0.0, 1.0])).tolist() == pytest.approx([0, 0, 100])
    assert np.isnan(lightness(np.array([math.nan]))).all()
    colours = np.array([[50.0, 10, -20], [0, 0, 0]])
    assert delta_e_2000(colours, colours) == pytest.approx([0, 0])
    assert delta_e_2000(np.zeros((0, 3)), np.zeros((0, 3))).shape == (0,)
    assert delta_e_2000(colours[:, None], colours[None]).shape == (2, 2)


def test_settings_as_columns_are_those_of_the_slice():
    at = Slice(MACHINE, 0.1, 2, 1.5)
    points = crossed(at, np.array([50.0, 100.0]), np.array([20.0, 40.0, 80.0])).points()
    assert {getattr(points, name).shape for name in points.__dataclass_fields__} == {(6,)}
    # 12 W · 20 % · 2 / (50 mm/s · 0.1 mm); dwell 1000 · 0.1/50.
    assert math.exp(points.ln_energy[0]) == pytest.approx(0.96)
    assert math.exp(points.ln_dwell[0]) == pytest.approx(2)
    assert np.exp([points.ln_film[0], points.ln_passes[0], points.ln_power[0]]) == pytest.approx([1.5, 2, 0.2])
    empty = Settings(at, np.zeros(0), np.zeros(0)).points()
    assert empty.ln_energy.shape == (0,)


@pytest.mark.parametrize(
    ("figures", "field"),
    [
        ({"interval_mm": math.nan}, "interval_mm"),
        ({"interval_mm": 0.1, "passes": 51}, "passes"),
        ({"interval_mm": 0.1, "film_share": 5.01}, "film_share"),
        ({"interval_mm": 0.1, "film_share": math.inf}, "film_share"),
    ],
)
def test_a_slice_that_nothing_can_be_drawn_for_is_refused(figures, field):
    with pytest.raises(BadValueError) as refusal:
        Slice(MACHINE, **figures)
    assert refusal.value.field == field
