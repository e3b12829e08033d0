"""The simulated laser: times against the closed form, words over a real loopback socket, stop that stops."""

import math
import time
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from keencoat.bench.laser.controller import Bed, Controller
from keencoat.bench.laser.link import SocketLaser
from keencoat.bench.laser.motion import Move, plan
from keencoat.bench.laser.program import Modal, read_line
from keencoat.bench.laser.server import LaserServer
from keencoat.bench.plant.exposure import read_exposure
from keencoat.core.grid.burning import BurnPlan, grid_tasks
from keencoat.core.grid.factors import Factor, design_factors
from keencoat.core.grid.making_room import CellSize, fit_grid
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.quantities.setting import Setting
from keencoat.core.quantities.slice import Slice
from keencoat.core.toolpath.gcode import write_gcode
from keencoat.core.toolpath.program import Item, Part, Task
from keencoat.core.toolpath.raster import raster_moves
from keencoat.core.toolpath.timing import burn_time_s
from tests.core.conftest import make_machine
from tests.core.test_grid_toolpath import band, drawn

BED = Bed(400, 400, 60, 60, 250, 2500)


@pytest.fixture
def laser():
    servers = []

    def start(pace=float("inf"), bed=BED, laser_mode=True):
        controller = Controller(bed, pace, laser_mode)
        server = LaserServer(controller)
        link = SocketLaser(server.address)
        servers.append((server, link))
        return link, controller

    yield start
    for server, link in servers:
        link.close()
        server.close()


def feed(link, text):
    answers = []
    for line in text.splitlines():
        link.send(line)
        answers.append(link.answer(5))
    return answers


def wait_done(link, lines, seconds=20):
    end = time.monotonic() + seconds
    while link.status().done < lines and time.monotonic() < end:
        time.sleep(0.01)
    return link.status()


@given(distance=st.floats(0.5, 300), speed=st.floats(5, 400), accel=st.floats(300, 9000))
def test_a_move_from_rest_to_rest_takes_the_closed_form(distance, speed, accel):
    """d/v + v/a, or 2√(d/a) where v is never reached: (100, 100, 1000) 1.1 s; (5, 200, 1000) 0.1414 s."""
    (timed,) = plan([Move(0, 0, distance, 0, speed, 1)], accel)
    long = distance >= speed**2 / accel
    assert timed.seconds == pytest.approx(distance / speed + speed / accel if long else 2 * math.sqrt(distance / accel))


@given(cuts=st.lists(st.floats(0.5, 40), min_size=2, max_size=8))
def test_a_straight_run_in_pieces_takes_as_long_as_in_one(cuts):
    edges = [sum(cuts[:n]) for n in range(len(cuts) + 1)]
    pieces = [Move(a, 0, b, 0, 100, n % 2) for n, (a, b) in enumerate(pairwise(edges))]
    (whole,) = plan([Move(0, 0, edges[-1], 0, 100, 1)], 1000)
    assert sum(t.seconds for t in plan(pieces, 1000)) == pytest.approx(whole.seconds)


def test_raster_time_worked_example(laser):
    """100 × 50 mm, 0.1 mm, 100 mm/s, 1000 mm/s², overscan 5 mm: 501 lines, 611.2 s."""
    machine = make_machine(accel_mm_s2=1000, max_speed_mm_s=100)
    setting = Setting(50, 100, 0.1)
    tasks = [Task(Item(Part.CELL, "A1"), setting, raster_moves(0, 0, 100, 50, setting, machine))]
    controller = Controller(Bed(400, 400, 60, 60, 100, 1000), float("inf"))
    lines = write_gcode(tasks, machine, "raster").splitlines()
    for line in lines:
        controller.take(line)
    while controller.state.done < len(lines):
        time.sleep(0.01)
    controller.close()
    assert controller.state.clock_s == pytest.approx(611.2, rel=0.005)
    assert controller.state.clock_s == pytest.approx(burn_time_s(tasks, machine), rel=0.005)


def test_a_grid_over_the_socket_burns_as_planned(laser):
    machine = make_machine()
    _, tasks = drawn(machine, FlatPiece(Shape.RECTANGLE, 100, 80, 4), 8)
    link, controller = laser()
    lines = write_gcode(tasks, machine, "grid").splitlines()
    assert set(feed(link, "\n".join(lines))) == {"ok"}
    assert wait_done(link, len(lines)).clock_s == pytest.approx(burn_time_s(tasks, machine), rel=0.02)
    lit = sum(b.move.length_mm for b in controller.burned if b.move.power > 0)
    at, wanted = (0.0, 0.0), 0.0
    for x, y, power in ((*m,) for t in tasks for m in zip(t.moves.x_mm, t.moves.y_mm, t.moves.power_pct, strict=True)):
        wanted += math.dist(at, (x, y)) if power else 0
        at = (x, y)
    assert lit == pytest.approx(wanted, rel=1e-4)


def test_a_row_longer_than_the_buffer_is_run_without_a_halt_in_its_middle():
    """The buffer is full when the row begins, since the controller was slow to come to it; the rest is still let in."""

    class Late(Controller):
        def _run_items(self, items):
            super()._run_items(items)
            time.sleep(0.05)

    controller = Late(Bed(400, 400, 60, 60, 400, 4000), math.inf)
    moves = [f"G1 X{90 + n * 0.05:.2f} S{n % 2 * 600}" for n in range(1200)]
    lines = ["G21 G90", "G0 X90", "M4 F12000", *moves]
    for line in lines:
        controller.take(line)
    while controller.state.done < len(lines):
        time.sleep(0.01)
    controller.close()
    lit = [b.move for b in controller.burned if b.move.power > 0]
    assert {round(m.speed_mm_s, 3) for m in lit if 100 < m.x0 < 140} == {200}


@pytest.mark.parametrize(
    ("line", "answer"),
    [
        ("G21 G90 ; metric", "ok"),
        ("(a comment)", "ok"),
        ("G2 X1 Y1 I1", "error 20 unknown word G2"),
        ("G1 X10 Q7 F600", "error 20 unknown word Q7"),
        ("M7", "error 20 unknown word M7"),
        ("make it hot", "error 1"),
        ("G1 X10", "error 22 no feed is set"),
        ("G1 X10 F0", "error 22 the feed"),
        ("G1 X10 F600 S1001", "error 23"),
        ("G0 X900", "error 15 X900 Y0 is beyond the bed"),
        ("G0 X-61", "error 15"),
        ("X5 P2", "error 25"),
        ("G1 " + "X1" * 200, "error 14"),
        ("<svg onload=alert(1)>", "error 1"),
    ],
)
def test_what_a_line_is_answered(laser, line, answer):
    link, controller = laser()
    assert feed(link, line)[0].startswith(answer)
    if answer != "ok":
        assert feed(link, "G0 X1")[0] == "ok"
        wait_done(link, 1)
        assert [b.move.x1 for b in controller.burned] == [1.0]


@pytest.mark.parametrize("laser_mode", [True, False])
def test_our_programs_never_leave_the_beam_on_while_they_wait(laser, laser_mode):
    """Waits between cells, halts for the head's height, the end: in either mode of the controller."""
    machine, piece = make_machine(), FlatPiece(Shape.RECTANGLE, 100, 80, 4)
    design = design_factors(Slice(machine, 0.1), band(), (Factor.FOCUS, Factor.POWER), 12, 1)
    layout = fit_grid(lambda _: design, 12, (), CellSize(6, 3), piece).sheets[0]
    tasks = grid_tasks(layout, piece, machine, BurnPlan(Setting(20, 60, 0.1), wait_s=7))
    lines = write_gcode(tasks, machine, "steps").splitlines()
    assert sum(line.startswith(("M0", "G4", "M2")) for line in lines) > 12
    modal = Modal()
    for line in lines:
        modal, _ = read_line(line, modal, (0, 0), laser_mode)
    assert modal.beam == 5


@pytest.mark.parametrize("wait", ["M0", "M1", "G4 P2", "M2", "M30"])
@pytest.mark.parametrize(
    ("beam", "laser_mode", "fails"), [("M3", True, True), ("M3", False, True), ("M4", False, True), ("M4", True, False)]
)
def test_a_beam_left_on_at_a_wait_fails_where_it_would_burn(laser, wait, beam, laser_mode, fails):
    link, _ = laser(laser_mode=laser_mode)
    answers = feed(link, f"{beam}\nG1 X5 F600 S500\n{wait}")
    assert answers[-1].startswith("error 33 the beam would stay on at S500") is fails
    link, _ = laser(laser_mode=laser_mode)
    assert feed(link, f"{beam}\nG1 X5 F600 S500\nS0\n{wait}")[-1] == "ok"


def test_units_and_relative_moves(laser):
    link, controller = laser()
    feed(link, "G20\nG91\nM4 S500\nG1 X1 F60\nG21\nX10")
    wait_done(link, 6)
    assert controller.burned[-1].move.x1 == pytest.approx(35.4)
    assert max(b.move.speed_mm_s for b in controller.burned) == pytest.approx(25.4)
    assert max(b.move.power for b in controller.burned) == 0.5


def test_hold_go_on_and_stop_at_once(laser):
    link, controller = laser(pace=1.0)
    feed(link, "M4\nG1 X40 F600 S900\nX80\nX120\nX160")
    time.sleep(0.2)
    link.pause()
    end = time.monotonic() + 8
    while link.status().state != "hold" and time.monotonic() < end:
        time.sleep(0.02)
    assert link.status().state == "hold"
    link.resume()
    feed(link, "G0 X0\nG1 X100 F60 S900")
    while link.status().state != "run" and time.monotonic() < end:
        time.sleep(0.02)
    asked = time.monotonic()
    link.stop()
    while link.status().state != "stopped":
        time.sleep(0.005)
    assert time.monotonic() - asked < 0.3
    done = len(controller.burned)
    assert feed(link, "G1 X5 F600")[0].startswith("error 9")
    assert len(controller.burned) == done


def test_a_halt_waits_for_the_hand_that_sets_the_height(laser):
    link, controller = laser()
    feed(link, "M4\nG1 X5 F600 S500\nM0\nX10")
    end = time.monotonic() + 5
    while link.status().state != "hold" and time.monotonic() < end:
        time.sleep(0.01)
    assert link.status().done == 3
    link.set_height(1.5)
    link.resume()
    wait_done(link, 4)
    assert [b.height_mm for b in controller.burned] == [0.0] * 3 + [1.5] * 3


@pytest.mark.parametrize(("beam", "laser_mode"), [("M4", True), ("M3", True), ("M4", False)])
def test_dynamic_power_follows_the_speed_and_constant_power_does_not(laser, beam, laser_mode):
    """10 mm at 100 mm/s and 2500 mm/s²: 2 mm up, 6 even, 2 down; the ramps take 40 ms each at half the mean speed."""
    link, controller = laser(laser_mode=laser_mode)
    feed(link, f"{beam}\nG1 X10 F6000 S500\nM5 S0\nM2")
    wait_done(link, 4)
    legs = [(b.move.length_mm, b.move.speed_mm_s, b.seconds) for b in controller.burned]
    assert legs == [pytest.approx(leg) for leg in ((2, 50, 0.04), (6, 100, 0.06), (2, 50, 0.04))]
    powers = [b.move.power for b in controller.burned]
    assert powers == pytest.approx([0.25, 0.5, 0.25] if beam == "M4" and laser_mode else [0.5] * 3)


@pytest.mark.parametrize(("beam", "burns"), [("M4", False), ("M3", True)])
def test_a_feed_hold_in_constant_mode_burns_where_the_head_stands(laser, beam, burns):
    link, controller = laser(pace=1.0)
    feed(link, f"{beam}\nG1 X120 F6000 S300\nG1 Y20\nM5 S0")
    end = time.monotonic() + 8
    # Held before its line has begun, the head stands where it came from, with no power asked for.
    while link.status().done < 1 and time.monotonic() < end:
        time.sleep(0.02)
    time.sleep(0.1)
    controller.pause()
    while link.status().state != "hold" and time.monotonic() < end:
        time.sleep(0.02)
    time.sleep(0.4)
    controller.resume()
    wait_done(link, 4)
    *_, stands = read_exposure(controller.burned)
    assert len(stands) == burns
    for stand in stands:
        assert (stand.x, stand.y, stand.power) == pytest.approx((120, 0, 0.3))
        assert 0.35 < stand.seconds < 3
