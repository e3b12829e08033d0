"""What may be told of a placing, and what is said of it: each at its limit and just beyond."""

import math
from dataclasses import replace

import numpy as np
import pytest
from scipy.stats import chi2

from keencoat.core.errors import BadValueError
from keencoat.core.piece import NarrowEnd, Shape, Wall, WallKind, make_piece
from keencoat.core.placing.advice import turn_findings, wall_findings
from keencoat.core.placing.beam import Beam
from keencoat.core.placing.centre import disc_from_chords, disc_through, sheet_at
from keencoat.core.placing.fixed_head import fixed_head, incidence_deg, sagitta_mm, turns_for
from keencoat.core.placing.height import height_room, points_beside
from keencoat.core.placing.level import levelling_of, supports_of
from keencoat.core.placing.spec import start_of_placing
from keencoat.core.placing.ticks import ticks_gcode
from keencoat.core.placing.turned import Turned, TurnedProgram
from keencoat.core.placing.turning import (
    StandsInFor,
    TickPair,
    TurnCalibration,
    TurningDevice,
    TurningKind,
    calibrate,
    of_seam,
)
from keencoat.core.placing.wall import ArtOnWall, ArtWay, TaperedWall
from keencoat.core.quantities.estimate import Range
from keencoat.core.quantities.setting import Setting
from keencoat.core.toolpath import Item, Moves, Part
from keencoat.core.toolpath.program import Task
from tests.core.conftest import make_machine
from tests.core.test_placing_head import under
from tests.core.test_placing_turned import CYLINDER, FACE, TAPER
from tests.core.test_window_by_hand import known, window

START = start_of_placing(make_piece(Shape.CYLINDER, 80, 100, 3, 3, 0))
CHUCK = TurningDevice(TurningKind.CHUCK, 120, StandsInFor.X)


def ticks(turns=1.0, widest_mm=80.0):
    return ticks_gcode(CHUCK, make_machine(), turns, widest_mm, (50, 30))


LIMITS = {
    "length_mm": (lambda v: replace(START, length_mm=v), 5, 1000),
    "stem_mm": (lambda v: replace(START, length_mm=100, stem_mm=v), 0, 90),
    "supports_mm": (lambda v: replace(START, supports_mm=v), 10, 2000),
    "focus_below_mm": (lambda v: replace(START, focus_below_mm=v), 0, 500),
    "mark width_mm": (lambda v: replace(START.mark, width_mm=v), 0.5, 4000),
    "mark height_mm": (lambda v: replace(START.mark, height_mm=v), 0.5, 2000),
    "mark along_mm": (lambda v: replace(START.mark, along_mm=v), 0, 2000),
    "mark turn_deg": (lambda v: replace(START.mark, turn_deg=v), -360, 360),
    "mark seam_deg": (lambda v: replace(START.mark, seam_deg=v), -360, 360),
    "stem": (lambda v: supports_of(100, v), 0, 90),
    "wall below_mm": (lambda v: TaperedWall(v, v, 100), 1, 1000),
    "wall above_mm": (lambda v: TaperedWall(500, v, 2000), 1, 1000),
    "wall slant_mm": (lambda v: TaperedWall(80, 80, v), 1, 2000),
    "half angle": (lambda v: levelling_of(TurningKind.CHUCK, v, 100, 50), -44, 44),
    "level supports_mm": (lambda v: levelling_of(TurningKind.CHUCK, 5, v, 50), 10, 2000),
    "turns": (lambda v: ticks(turns=v), 0.1, 20),
    "widest_mm": (lambda v: ticks(widest_mm=v), 5, 1000),
    "radius_mm": (lambda v: under(2.4, 100, radius_mm=v), 2, 1000),
    "chord": (lambda v: sagitta_mm(30, v), 0, 60),
    "aside": (lambda v: incidence_deg(30, v), -30, 30),
    "focus": (lambda v: fixed_head(under(2.4, 100), 0.5, v), 0, 30),
    "art": (lambda v: turns_for(v, 36, 30), 0.1, 2 * math.pi * 30),
    "touched x": (lambda v: disc_through([(v, 0), (v - 9000 * np.sign(v), 6000), (0, -9000)]), -10_000, 10_000),
    "lower corners": (lambda v: sheet_at((0, 0), (v, 0), None, (90, 60)), 45 + 1e-6, 180 - 1e-6),
}


@pytest.mark.parametrize(("tell", "low", "high"), LIMITS.values(), ids=LIMITS)
def test_what_can_be_told_ends_where_it_is_said_to(tell, low, high):
    step = 1e-3 * (high - low)
    for inside in (low, high, low + step, high - step):
        tell(inside)
    for beyond in (low - step, high + step):
        with pytest.raises(BadValueError):
            tell(beyond)


def test_a_turn_that_is_off_by_a_third_of_a_millimetre_shows_at_the_seam():
    """Half the range over the middle, times the way round: 0.13 of 120 on 277 mm is 0.3001 mm."""
    known = TurnCalibration(Range(119.87, 120, 120.13), 0.0)
    assert turn_findings(known, 276.9) == []
    (finding,) = turn_findings(known, 277.1)
    assert finding.figures["doubt_mm"] == pytest.approx(0.30019, abs=1e-4)


def cone(below_mm, above_mm):
    return Wall(WallKind.CONE, 100.0, below_mm, (above_mm - below_mm) / 100, 0.0, (), ())


def test_a_wall_is_another_than_told_from_one_and_a_half_per_cent_at_its_worse_end():
    for wide, narrow, differs in (
        (80, 60, False),
        (81.1, 60, False),
        (81.3, 60, True),
        (80, 60.95, True),
        (80, 59.2, False),
    ):
        assert bool(wall_findings(cone(wide, narrow), (80, 60))) == differs
        # Whichever end stands up, and however it was told.
        assert bool(wall_findings(cone(narrow, wide), (60, 80))) == differs


def test_touches_are_off_from_three_times_their_doubt():
    """Touched to 0.15 mm: of five points one that lies off the circle of all by 0.45 mm or more is named."""
    ring = [(50 * math.cos(a), 50 * math.sin(a)) for a in (0.0, 1.26, 2.51, 3.77, 5.03)]

    def with_first_at(radius):
        found = disc_through([(radius, 0), *ring[1:]])
        return max(map(abs, found.off_mm)), [f.code for f in found.findings]

    for radius in (50.4, 50.8, 51.0, 51.2, 52.0):
        worst, codes = with_first_at(radius)
        assert codes == (["point-off"] if worst >= 0.45 else [])
    assert with_first_at(50.8)[0] < 0.45 < with_first_at(52.0)[0]
    # Of four every three agree: the one that lies furthest off the circle of the rest is named.
    at = [(50 * math.cos(a), 50 * math.sin(a)) for a in (0.0, 1.3, 2.6)] + [(56 * math.cos(4.4), 56 * math.sin(4.4))]
    for turn in range(4):
        (finding,) = disc_through([*at[turn:], *at[:turn]]).findings
        assert finding.figures["number"] == 3 - turn
    # Four: the worse fit of three free figures is doubted as Σ off² over one.
    four = disc_through([(50.5, 0), (0, 50), (-50, 0), (0, -50)])
    off = np.array(four.off_mm)
    sd = max(0.15, math.sqrt((off**2).sum()))
    assert four.doubt_mm == pytest.approx(math.sqrt(chi2(2).ppf(0.9)) * sd * math.sqrt(0.5), rel=0.02)


def test_the_doubt_of_chords_is_what_touching_their_ends_leaves():
    """4000 pairs of chords touched with 0.15 mm: the radius holds the centre nine times in ten."""
    rng = np.random.default_rng()
    ends = np.array([[50 * math.cos(a), 50 * math.sin(a)] for a in (0.2, 2.4, 1.7, 4.6)])

    def found(at):
        return disc_from_chords(at[:2].tolist(), at[2:].tolist())

    centres = np.array([(d.x_mm, d.y_mm) for d in (found(ends + rng.normal(0, 0.15, ends.shape)) for _ in range(4000))])
    held = np.mean(np.hypot(*centres.T) < found(ends).doubt_mm)
    assert 0.88 < held < 0.92


def test_a_place_that_gets_less_energy_from_a_wider_spot():
    """Dwell and overlap grow with the spot, energy as said; passes and power stay what they are."""
    machine, setting = make_machine(rated_w=10, spot_mm=0.1), Setting(30, 10, 0.1, 3)
    at, beside = (points_beside(setting, machine, np.array([s]), np.array([w])) for s, w in ((1.0, 1.0), (0.5, 1.2)))
    moved = {name: float(getattr(beside, name)[0] - getattr(at, name)[0]) for name in vars(at)}
    wider = math.log(1.2)
    assert moved == pytest.approx(
        {"ln_energy": math.log(0.5), "ln_dwell": wider, "ln_overlap": wider, "ln_passes": 0, "ln_power": 0,
         "ln_film": 0, "ln_patch": 0}
    )  # fmt: skip
    assert float(beside.ln_passes[0]) == pytest.approx(math.log(3))
    assert float(beside.ln_power[0]) == pytest.approx(float(at.ln_power[0]))


def test_how_far_from_the_focus_is_looked_at():
    """Four lengths by which the beam is √2 as wide, whatever those are; beside a ridge 75° of the wall."""
    fit, setting = known(window(0.1, 100.0)), Setting(30, 10, 0.1)
    found = height_room(fit, setting, make_machine(rated_w=10, spot_mm=0.1), Beam(0.05, 1.5, False), 0.5)
    assert (found.room_mm, found.off_mm[-1]) == (6, 6)
    assert found.spot_times[-1] == pytest.approx(math.sqrt(17))
    flank = under(2.4, 100, radius_mm=20).flank(0.0)
    assert flank.incidence_deg[-1] == pytest.approx(75)
    assert flank.aside_mm[-1] == pytest.approx(20 * math.sin(math.radians(75)))


def test_the_side_that_fails_first_names_how():
    """Clean in the middle, faint at the sides, harsh where the wall is steepest would be: the first failing place
    counts, not the last."""
    head = fixed_head(under(2.4, 3.6, OVERLAP_GAP=-1.0, rayleigh_mm=40), 0.5, 0.0)
    first = int(np.flatnonzero(head.flank.clean < 0.5)[0])
    assert head.fails_as == ("faint" if head.flank.faint[first] >= head.flank.harsh[first] else "harsh")


def test_straight_art_is_parted_as_it_bends():
    """A chord of l strays from its arc by l²/8ρ: 40 mm on the taper's ring are parted until each strays 0.02 mm or
    less, and in no more parts than that takes."""
    art = ArtOnWall(TAPER, ArtWay.STRAIGHT, TAPER.slant_mm / 2)
    turned = Turned(art, CHUCK, 80, FACE, False)
    left, middle = FACE[0] / 2 - 20, FACE[1] / 2
    line = Moves(
        np.array([left, left + 40]),
        np.full(2, middle),
        np.full(2, 50.0),
        np.array([0.0, 40.0]),
        np.ones(2, dtype=bool),
        np.array([True, False]),
    )
    (task,) = TurnedProgram([Task(Item(Part.ARTWORK), Setting(40, 50, 0.5), line)], turned)
    parts = int((task.moves.power_pct > 0).sum())
    strays = (40 / parts) ** 2 / (8 * art.tip_mm)
    assert strays <= 0.02 < (40 / max(1, parts - 1)) ** 2 / (8 * art.tip_mm)
    # A move that goes nowhere has no speed of its own to change.
    twice = replace(line, x_mm=np.full(2, left), y_mm=np.full(2, middle))
    assert turned.moves(twice, (left, middle)).speed_mm_s == pytest.approx([50, 50])
    on_cylinder = replace(turned, art=ArtOnWall(CYLINDER, ArtWay.STRAIGHT, 50))
    assert len(on_cylinder.moves(line, (0.0, 0.0))) == 2
    assert START.narrow_end is NarrowEnd.NEITHER


def test_chords_of_a_disc_that_is_as_large_as_told_say_no_more():
    ends = [(50 * math.cos(a) + 7, 50 * math.sin(a) - 3) for a in (0.2, 2.4, 1.7, 4.6)]
    assert disc_from_chords(ends[:2], ends[2:], told_mm=101).findings == ()
    (finding,) = disc_from_chords(ends[:2], ends[2:], told_mm=97).findings
    assert (finding.code, finding.figures["found_mm"]) == ("not-as-told", pytest.approx(100))


def test_a_seam_closes_after_whole_turns_from_one_to_twenty():
    for turns in (1, 2, 20):
        assert of_seam(turns, 0.5, 250).asked_turns == turns
    for turns in (0, 21, 1.5):
        with pytest.raises(BadValueError):
            of_seam(turns, 0.5, 250)


def test_the_range_of_ticks_that_disagree_is_students():
    """Two pairs of one turn, 1.2 mm apart on 250: each 0.6 mm off the line where the tape doubts 0.3: spread √8 over
    one degree of freedom, Student's 6.3138 (Abramowitz & Stegun 1964, table 26.10) in the place of 1.6449."""
    pairs = [TickPair(1, 250 + off, 250) for off in (-0.6, 0.6)]
    found = calibrate(CHUCK, pairs).mm_per_turn
    sd = math.sqrt(8) * (0.3 / 250) / math.sqrt(2)
    assert (found.low, found.high) == pytest.approx((120 / (1 + 6.3138 * sd), 120 / (1 - 6.3138 * sd)), rel=1e-4)
    # A little more than the tape's own doubt is Student's too, no more than that is the tape's.
    for off, wide in ((0.25, 6.3138 * 0.25 / 0.3 * math.sqrt(2)), (0.2, 1.6449)):
        found = calibrate(CHUCK, [TickPair(1, 250 + o, 250) for o in (-off, off)]).mm_per_turn
        assert found.low == pytest.approx(120 / (1 + wide * 0.3 / 250 / math.sqrt(2)), rel=1e-4)


def test_art_turned_round_a_taper_keeps_its_side():
    for way in ArtWay:
        art = ArtOnWall(TAPER, way, 50, 40)
        _, turns = art.onto(np.array([-5.0, 0.0, 5.0]), np.zeros(3))
        assert turns[1] == pytest.approx(40)
        assert turns[0] < turns[1] < turns[2]


def test_a_device_that_cannot_follow_says_how_the_art_must_lie():
    for axis, words in ((StandsInFor.X, "upright"), (StandsInFor.Y, "turned a quarter")):
        device = TurningDevice(TurningKind.CHUCK, 120, axis)
        with pytest.raises(BadValueError, match=words):
            Turned(ArtOnWall(TAPER, ArtWay.LEVEL, 50), device, 80, FACE, axis is StandsInFor.X)
