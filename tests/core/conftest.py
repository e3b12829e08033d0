import pytest

from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.quantities.setting import BeamSource, Machine


def make_machine(**changes):
    values = {
        "source": BeamSource.BLUE, "rated_w": 12.0, "spot_mm": 0.1, "min_speed_mm_s": 5.0, "max_speed_mm_s": 250.0,
        "min_power_pct": 2.0, "accel_mm_s2": 2500.0, "bed_x_mm": 400.0, "bed_y_mm": 400.0,
    }  # fmt: skip
    return Machine(**(values | changes))


@pytest.fixture
def machine():
    return make_machine()


@pytest.fixture
def spare():
    return FlatPiece(Shape.RECTANGLE, 100, 80, 4)
