"""Proposals from measurements: chances that add up, harms that only make harsher, lines that follow a habit."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from keencoat.core.rating import FULL_AT, Rating
from keencoat.core.reading.cells import CellReading
from keencoat.core.reading.evidence import join_readings
from keencoat.core.reading.rate import LIMITS, Tuning, propose
from keencoat.core.reading.tune import Judged, tune
from keencoat.core.substrate.processes import DEFECTS, PROCESSES

FULL = CellReading(
    code="B2",
    contrast_l=50.0,
    weber=15.0,
    michelson=0.88,
    full_share=1.0,
    gap_share=0.0,
    unevenness=0.01,
    stripes=None,
    speck_share=0.0,
    speck_count=0,
    roughness_mm=0.02,
    haze=0.0,
    tint_de=0.5,
    strokes_seen=1.0,
    strokes_merged=False,
)
cells = st.builds(
    replace,
    st.just(FULL),
    full_share=st.floats(-0.1, 1.3),
    gap_share=st.floats(0, 1),
    speck_share=st.floats(0, 0.6),
    haze=st.floats(-0.1, 1),
    tint_de=st.floats(0, 60),
    roughness_mm=st.floats(0, 1),
    stripes=st.none() | st.floats(0, 2),
    strokes_seen=st.none() | st.floats(0, 1),
    strokes_merged=st.booleans(),
)
processes = st.sampled_from(sorted(PROCESSES))


@given(cell=cells, process=processes)
def test_chances_add_up_and_defects_belong_to_the_process(cell, process):
    p = propose(cell, process, Tuning())
    assert p.faint + p.clean + p.harsh == pytest.approx(1, abs=2e-3)
    assert min(p.faint, p.clean, p.harsh) >= 0
    assert p.chance == {Rating.FAINT: p.faint, Rating.CLEAN: p.clean, Rating.HARSH: p.harsh}[p.rating]
    assert set(p.defects) <= set(PROCESSES[process].defects)
    assert p.why.endswith("mark") or ";" in p.why


@given(cell=cells, process=processes, more=st.floats(1, 5))
def test_more_harm_is_never_less_harsh_and_more_mark_never_fainter(cell, process, more):
    before = propose(cell, process, Tuning())
    worse = replace(
        cell,
        speck_share=more * cell.speck_share,
        haze=cell.haze * more if cell.haze > 0 else cell.haze,
        tint_de=more * cell.tint_de,
        roughness_mm=more * cell.roughness_mm,
    )
    assert propose(worse, process, Tuning()).harsh >= before.harsh - 1e-9
    fuller = replace(cell, full_share=cell.full_share + 0.1, gap_share=cell.gap_share / more)
    assert propose(fuller, process, Tuning()).faint <= before.faint + 1e-3


@pytest.mark.parametrize("process", sorted(LIMITS))
def test_each_harm_over_its_limit_is_named_and_harsh(process):
    figures = {"specks": "speck_share", "haze": "haze", "tint": "tint_de", "roughness": "roughness_mm"}
    assert propose(FULL, process, Tuning()).rating is Rating.CLEAN
    assert propose(replace(FULL, full_share=0.4), process, Tuning()).rating is Rating.FAINT
    for limit in LIMITS[process]:
        p = propose(replace(FULL, **{figures[limit.figure]: 2 * limit.at}), process, Tuning())
        assert p.rating is Rating.HARSH
        assert limit.defect in p.defects
        assert limit.words in p.why
        assert limit.defect in DEFECTS


def test_lines_follow_a_habit_and_not_a_slip():
    strict = [Judged(replace(FULL, full_share=0.86), "frost", Rating.FAINT) for _ in range(15)]
    strict += [Judged(replace(FULL, full_share=0.96), "frost", Rating.CLEAN) for _ in range(15)]
    assert 0.86 < tune(strict).full_at < 0.96
    # One rating moves the line by less than the prior's own doubt.
    assert abs(tune(strict[:1]).full_at - FULL_AT) < 0.08
    lenient = [Judged(replace(FULL, speck_share=0.02), "frost", Rating.CLEAN) for _ in range(15)]
    assert tune(lenient).harm_factor > 1.3
    assert propose(replace(FULL, speck_share=0.02), "frost", tune(lenient)).rating is Rating.CLEAN
    slip = tune([Judged(replace(FULL, speck_share=0.3), "frost", Rating.CLEAN)])
    assert propose(replace(FULL, speck_share=0.3), "frost", slip).rating is Rating.HARSH
    assert tune([]) == Tuning()


@given(first=cells, second=cells, process=processes)
def test_a_second_photo_adds_harms_and_never_hides_one(first, second, process):
    joined = join_readings([first, second])
    for name in ("speck_share", "haze", "tint_de", "roughness_mm", "unevenness"):
        assert getattr(joined, name) == max(getattr(first, name), getattr(second, name))
    assert min(first.full_share, second.full_share) - 1e-3 <= joined.full_share
    assert joined.full_share <= max(first.full_share, second.full_share) + 1e-3
    assert join_readings([first]) == first
    assert propose(joined, process, Tuning()).harsh >= propose(first, process, Tuning()).harsh - 1e-9
