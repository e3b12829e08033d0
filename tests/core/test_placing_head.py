"""What a fixed head can mark of a round wall, read from windows whose boundaries are known; by hand."""

import math

import numpy as np
import pytest

from keencoat.core.errors import BadValueError
from keencoat.core.placing.advice import head_findings
from keencoat.core.placing.beam import Beam
from keencoat.core.placing.fixed_head import UnderHead, across_mm, fixed_head, incidence_deg, sagitta_mm, turns_for
from keencoat.core.quantities.setting import Setting
from keencoat.core.rating import Rating
from keencoat.core.window.scatter import Scatter
from tests.core.conftest import make_machine
from tests.core.test_window_by_hand import known, window


def under(enough_j, harm_j, power_pct=30.0, radius_mm=30.0, rayleigh_mm=1e6, **more):
    """A wall of Ø 60 under a head whose focus never ends, at 3 J/mm² × power, on pieces that hardly differ."""
    fit = known(window(enough_j, harm_j, **more), scatter=Scatter(0, 0, 0, measured_pieces=8))
    machine = make_machine(rated_w=10, spot_mm=0.1)
    return UnderHead(fit, Setting(power_pct, 10, 0.1), machine, Beam(0.05, rayleigh_mm, True), radius_mm)


def test_a_fixed_head_marks_as_far_as_the_cosine_leaves_enough():
    """3 J/mm² at the ridge, 2.4 needed: cos θ = 0.8, sin θ = 0.6: 36 mm of Ø 60 at even chances."""
    head = fixed_head(under(2.4, 100), 0.5)
    assert head.widest_mm == pytest.approx(36, abs=0.3)
    assert (head.focus_below_mm, head.fails_as) == (0, Rating.FAINT)
    flank = head.flank
    there = int(np.abs(flank.aside_mm - 18).argmin())
    assert flank.energy_share == pytest.approx(np.sqrt(1 - (flank.aside_mm / 30) ** 2))
    assert flank.incidence_deg[there] == pytest.approx(incidence_deg(30, flank.aside_mm[there]))
    assert flank.below_focus_mm[there] == pytest.approx(sagitta_mm(30, 2 * flank.aside_mm[there]))
    assert flank.clean + flank.faint + flank.harsh == pytest.approx(np.ones(61))
    # A cone twice as wide marks twice as wide; a fuller cell further; none where the ridge itself is faint.
    assert fixed_head(under(2.4, 100, radius_mm=60), 0.5).widest_mm == pytest.approx(72, abs=0.6)
    assert fixed_head(under(2.0, 100), 0.5).widest_mm == pytest.approx(60 * math.sqrt(1 - 4 / 9), abs=0.5)
    assert fixed_head(under(3.3, 100), 0.5).widest_mm == 0


def test_out_of_focus_sides_end_a_mark_sooner_and_a_deeper_focus_helps():
    """Overlap costs energy here: the sagitta of 6 mm at the old end is 4 z_R away."""
    short = under(2.4, 100, rayleigh_mm=1.5, OVERLAP=0.5)
    at_ridge, shared = fixed_head(short, 0.5, 0.0), fixed_head(short, 0.5)
    assert at_ridge.widest_mm < 30
    assert shared.widest_mm > at_ridge.widest_mm + 1
    assert shared.focus_below_mm > 0
    harm = fixed_head(under(0.1, 4.0, rayleigh_mm=1.5, OVERLAP_GAP=-1.0), 0.5, 0.0)
    assert harm.fails_as is Rating.HARSH


def test_a_typical_narrow_glass_takes_about_thirty_millimetres():
    """Common practice, no source. Ø 60, a setting with a quarter of margin to faint, a diode's depth of focus, pieces
    that differ by a tenth, 95 in 100 wanted."""
    fit = known(window(2.2, 6.0), scatter=Scatter(0.05, 0.02, 0.02, measured_pieces=8))
    head = UnderHead(fit, Setting(29.3, 10, 0.1), make_machine(rated_w=10, spot_mm=0.08), Beam(0.04, 1.4, False), 30)
    assert 24 < fixed_head(head, 0.95).widest_mm < 36


def test_wider_art_is_parted_into_turns_that_meet():
    parts = turns_for(100, 36, 30)
    reach = 2 * 30 * math.asin(0.6)
    assert len(parts.at_deg) == math.ceil(100 / reach) == 3
    assert parts.strip_mm * 3 == pytest.approx(100)
    assert parts.strip_mm <= reach
    assert np.diff(parts.at_deg) == pytest.approx(np.full(2, math.degrees(parts.strip_mm / 30)))
    assert sum(parts.at_deg) == pytest.approx(0)
    assert turns_for(30, 36, 30).at_deg == (0.0,)
    for bad in ((100, 0, 30), (200, 36, 30), (math.nan, 36, 30)):
        with pytest.raises(BadValueError):
            turns_for(*bad)
    head = fixed_head(under(2.4, 100), 0.5)
    assert head_findings(head, 36) == [] or head.widest_mm < 36
    assert [f.code for f in head_findings(head, 40)] == ["head-too-narrow"]
    assert "not even the ridge" in head_findings(fixed_head(under(3.3, 100), 0.5), 10)[0].message
    with pytest.raises(BadValueError):
        fixed_head(under(2.4, 100), 0.5, 31.0)
    assert (sagitta_mm(40, 20), incidence_deg(40, 20)) == (pytest.approx(1.27017, abs=1e-5), pytest.approx(30))


def test_the_focus_is_shared_between_ridge_and_sides_where_that_helps():
    """Of the depths that are tried each is half the sagitta of a mark 0.4, 0.6 … times R wide; the widest mark wins."""
    short = under(2.4, 100, rayleigh_mm=1.5, OVERLAP=0.5)
    tried = [sagitta_mm(30, share * 30) / 2 for share in (0.0, 0.4, 0.6, 0.8, 1.0, 1.2)]
    widest = {below: fixed_head(short, 0.5, below).widest_mm for below in tried}
    best = fixed_head(short, 0.5)
    assert best.focus_below_mm in [pytest.approx(below) for below in tried]
    assert best.widest_mm == pytest.approx(max(widest.values()), abs=0.06)
    assert across_mm(10, 30) == pytest.approx(60 * math.sin(10 / 60))
    assert across_mm(150, 30) == 60
    for width in (0.09, 2 * math.pi * 30 + 0.1):
        with pytest.raises(BadValueError):
            turns_for(width, 36, 30)
    assert turns_for(0.11, 36, 30).at_deg == (0.0,)
    assert len(turns_for(2 * math.pi * 30, 36, 30).at_deg) == 5
