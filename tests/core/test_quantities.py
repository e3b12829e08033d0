"""Units against pint; energies against worked examples (ISO 11146-1 definitions, from memory)."""

import math
from dataclasses import replace

import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st

from keencoat.core.errors import BadValueError, UnknownNameError
from keencoat.core.quantities.energy import (
    areal_energy_j_mm2,
    dwell_ms,
    line_energy_j_mm,
    minutes_per_dm2,
    overlap_lines,
    power_for_energy_pct,
)
from keencoat.core.quantities.setting import BeamSource, Setting, require_reachable
from keencoat.core.quantities.slice import Slice
from keencoat.core.quantities.units import UNITS, from_base, show, to_base
from tests.core.conftest import make_machine

PINT = pint.UnitRegistry()
PINT_NAMES = {
    "mm_s": "mm/s", "mm_min": "mm/min", "in_min": "inch/min",
    "mm": "mm", "lines_cm": "1/cm", "lines_mm": "1/mm", "dpi": "1/inch",
}  # fmt: skip


@pytest.mark.parametrize("key", UNITS)
@given(value=st.floats(1e-3, 1e4))
def test_units_agree_with_pint_and_turn_back(key, value):
    unit = UNITS[key]
    base = PINT.Quantity(value, "mm/s" if unit.quantity == "speed" else "mm")
    expected = (1 / base if unit.reciprocal else base).to(PINT_NAMES[key]).magnitude
    assert from_base(value, key) == pytest.approx(expected, rel=1e-12)
    assert to_base(from_base(value, key), key) == pytest.approx(value, rel=1e-12)


def test_worked_conversions():
    assert to_base(6000, "mm_min") == 100
    assert from_base(100, "in_min") == pytest.approx(236.2204724, rel=1e-9)
    assert to_base(254, "dpi") == pytest.approx(0.1)
    assert show(0.08, "dpi") == "318 dpi"
    shown = [show(55.5555, "mm_s"), show(55.5555, "mm_min"), show(55.5555, "in_min"), show(0.12345, "mm")]
    assert shown == ["55.6 mm/s", "3333 mm/min", "131.2 in/min", "0.123 mm"]
    assert [show(0.12345, "lines_cm"), show(0.12345, "lines_mm")] == ["81.0 lines/cm", "8.10 lines/mm"]


@pytest.mark.parametrize("bad", [0, -1, math.nan, math.inf])
def test_units_refuse_what_is_no_speed(bad):
    with pytest.raises(BadValueError) as caught:
        from_base(bad, "mm_min")
    assert caught.value.field == "speed"


def test_unknown_unit_lists_the_known():
    with pytest.raises(UnknownNameError, match="mm_min"):
        to_base(1, "furlong")


def test_energy_worked_example():
    """5 W, 6000 mm/min, 0.1 mm: 0.5 J/mm², 0.05 J/mm; spot 0.1 mm: 1 ms."""
    machine, setting = make_machine(rated_w=5), Setting(100, 100, 0.1)
    assert areal_energy_j_mm2(setting, machine) == pytest.approx(0.5)
    assert line_energy_j_mm(setting, machine) == pytest.approx(0.05)
    assert dwell_ms(setting, machine) == pytest.approx(1.0)
    assert overlap_lines(setting, machine) == pytest.approx(1.0)
    assert minutes_per_dm2(setting) == pytest.approx(1000 / 60)


@given(energy=st.floats(0.05, 20), speed=st.floats(5, 500), interval=st.floats(0.02, 0.3), passes=st.integers(1, 4))
def test_power_for_energy_inverts_energy(energy, speed, interval, passes):
    machine = make_machine(rated_w=500)
    power = power_for_energy_pct(energy, speed, Slice(machine, interval, passes))
    if 0.01 <= power <= 100:
        assert areal_energy_j_mm2(Setting(power, speed, interval, passes), machine) == pytest.approx(energy)


@pytest.mark.parametrize(
    ("field", "value"),
    [("power_pct", 101), ("power_pct", 0), ("speed_mm_s", -3), ("speed_mm_s", math.nan), ("interval_mm", 0),
     ("passes", 0)],
)  # fmt: skip
def test_setting_names_the_bad_field(field, value):
    values = {"power_pct": 50, "speed_mm_s": 100, "interval_mm": 0.1, "passes": 1} | {field: value}
    with pytest.raises(BadValueError) as caught:
        Setting(**values)
    assert caught.value.field == field


def test_beyond_the_machine(machine):
    with pytest.raises(BadValueError, match="goes up to 250"):
        require_reachable(Setting(50, 251, 0.1), machine)
    with pytest.raises(BadValueError, match="between 2 and 100"):
        require_reachable(Setting(1, 100, 0.1), machine)
    assert BeamSource.BLUE.wavelength_nm == 450


def test_two_machines_have_one_beam_however_far_and_fast_they_travel():
    machine = make_machine()
    assert machine.has_beam_of(replace(machine, bed_x_mm=900, max_speed_mm_s=150, accel_mm_s2=500))
    assert not any(
        machine.has_beam_of(other)
        for other in (
            replace(machine, rated_w=machine.rated_w + 1),
            replace(machine, spot_mm=2 * machine.spot_mm),
            replace(machine, source=BeamSource.CO2),
        )
    )
