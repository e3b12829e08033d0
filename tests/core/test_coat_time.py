"""Batches over time: what must hold whatever is stamped, looked at or planned."""

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from keencoat.core.coat.catalogue import COATS
from keencoat.core.coat.drying import AirSpell, DryRecord, Heat, correct
from keencoat.core.coat.hands import Load, plan_hands
from keencoat.core.coat.offers import Need, hands_min_per_coat, may_be_heated, offer_of
from keencoat.core.coat.recipes import Carrier
from keencoat.core.coat.room import Air
from keencoat.core.coat.schedule import Course, Stamp, drying_at, groups_at
from keencoat.core.coat.tools import TOOLS, Motion
from keencoat.core.quantities.setting import BeamSource
from keencoat.core.substrate.materials import find_substrate
from keencoat.core.substrate.processes import find_process

NOON = datetime(2026, 5, 4, 12, tzinfo=UTC)


def course(key="tempera_brushed", coats=3, spells=(), records=()):
    coat = COATS[key]
    return Course(coat, coats, coat.dry_um_per_coat.value, spells, correct(records))


def minutes(n):
    return timedelta(minutes=n)


stamps_of = st.lists(
    st.tuples(st.integers(1, 3), st.integers(1, 12), st.integers(0, 11), st.integers(-300, 0)), max_size=7
).map(lambda rows: [Stamp(n, a, min(12, a + b), NOON + minutes(m)) for n, a, b, m in rows])


@given(stamps=stamps_of, seed=st.randoms())
def test_the_order_in_which_stamps_arrive_changes_nothing(stamps, seed):
    unique = {(s.number, p): s for s in stamps for p in range(s.first, s.last + 1)}
    if len(unique) < sum(s.last - s.first + 1 for s in stamps):
        return
    mixed = list(stamps)
    seed.shuffle(mixed)

    def rows(some):
        return [(g.first, g.last, g.coats_on, g.next_at) for g in groups_at(course(), 12, some, NOON)]

    assert rows(stamps) == rows(mixed)


@given(stamps=stamps_of, later=st.integers(0, 2000))
def test_time_only_makes_things_readier(stamps, later):
    ready = [
        {p for g in groups_at(course(), 12, stamps, at) if g.ready for p in range(g.first, g.last + 1)}
        for at in (NOON, NOON + minutes(later))
    ]
    assert ready[0] <= ready[1]


@given(stamps=stamps_of)
def test_ranges_hold_the_plan_and_the_lead_is_one_of_the_groups(stamps):
    drying = drying_at(course(), 12, stamps, NOON)
    assert drying.lead in drying.groups
    for group in drying.groups:
        if group.next_at:
            assert group.put_on_at <= group.earliest_at <= group.next_at <= group.latest_at
            assert group.ready == (group.next_at <= NOON)
    assert drying.burnable_pieces <= 12
    if any(g.ready and not g.all_on for g in drying.groups):
        assert drying.ready


@given(dry_after=st.lists(st.floats(5, 60), min_size=1, max_size=6))
def test_a_shop_where_coats_dry_faster_plans_shorter_waits(dry_after):
    """The plan moves towards what was seen, never past it, and the range closes in."""
    records = [DryRecord(m, 20, dry=True) for m in dry_after]
    own, makers = course(records=records).span(1).plan, course().span(1).plan
    seen = float(sorted(dry_after)[len(dry_after) // 2])
    low, high = min(min(dry_after), makers), max(max(dry_after), makers)
    assert low - 1e-9 <= own <= high + 1e-9
    assert (own < makers) == (correct(records).factor < 1)
    narrow, wide = correct(records * 4), correct(records)
    assert narrow.high / narrow.low <= wide.high / wide.low
    assert seen > 0


@given(hours=st.integers(1, 30), damp=st.floats(60, 95))
def test_a_damp_night_delays_only_what_it_covers(hours, damp):
    """A damp spell that begins after a coat is dry changes nothing; one that covers it delays it."""
    dry_air, damp_air = Air(20, 45), Air(16, damp)
    base = [AirSpell(NOON - minutes(600), dry_air)]
    stamp = [Stamp(1, 1, 12, NOON)]
    alone = groups_at(course(spells=base), 12, stamp, NOON)[0].next_at
    after = [*base, AirSpell(alone + minutes(60 * hours), damp_air)]
    assert groups_at(course(spells=after), 12, stamp, NOON)[0].next_at == alone
    during = [*base, AirSpell(NOON + minutes(2), damp_air)]
    assert groups_at(course(spells=during), 12, stamp, NOON)[0].next_at > alone


loads_of = st.lists(
    st.builds(
        Load,
        key=st.uuids().map(str),
        first=st.just(1),
        last=st.integers(1, 6),
        coats_on=st.just(0),
        coats_left=st.integers(1, 3),
        ready_min=st.floats(0, 40),
        hands_min=st.floats(0.5, 6),
        between_min=st.floats(0, 40),
        last_min=st.floats(0, 60),
    ),
    min_size=1,
    max_size=3,
)


@given(loads=loads_of)
def test_no_plan_beats_what_cannot_be_beaten(loads):
    """Two bounds: the work of the hands, and the longest single piece with all of its drying."""
    plan = plan_hands(loads)
    work = sum(x.hands_min * (x.last - x.first + 1) * x.coats_left for x in loads)
    alone = [x.ready_min + x.coats_left * x.hands_min + (x.coats_left - 1) * x.between_min + x.last_min for x in loads]
    assert plan.done_min >= max(work, *alone) - 1e-6
    # And one after the other is always possible: no plan takes longer.
    serial = 0.0
    for x in loads:
        pieces = x.last - x.first + 1
        serial = max(serial, x.ready_min) + x.coats_left * pieces * x.hands_min
        serial += (x.coats_left - 1) * x.between_min + x.last_min
    assert plan.done_min <= serial + 1e-6


@given(loads=loads_of, extra=loads_of)
def test_more_work_is_never_done_sooner(loads, extra):
    most = plan_hands(loads + extra[:1])
    alone = plan_hands(extra[:1])
    assert most.done_min >= alone.done_min - 1e-6 or most.done_min >= plan_hands(loads).done_min - 1e-6
    assert sum(t.end_min - t.start_min for t in most.turns) == pytest.approx(
        sum(t.end_min - t.start_min for t in plan_hands(loads).turns)
        + sum(t.end_min - t.start_min for t in alone.turns)
    )


@pytest.mark.parametrize("key", sorted(COATS))
def test_heat_is_offered_to_water_alone(key):
    coat = COATS[key]
    for name in coat.tools:
        heats = may_be_heated(coat, TOOLS[name])
        assert Heat.NONE in heats
        if coat.carrier in (Carrier.ALCOHOL, Carrier.SOLVENT) or TOOLS[name].motion is Motion.LAY:
            assert heats == [Heat.NONE]


@given(area=st.floats(1, 900), pieces=st.integers(1, 60), humidity=st.floats(35, 75))
def test_offers_grow_with_the_batch_and_the_damp(area, pieces, humidity):
    coat, tool = COATS["tempera_brushed"], TOOLS["foam_brush"]
    glass, frost = find_substrate("soda_lime_glass"), find_process("frost")

    def offer(n, air):
        return offer_of(coat, tool, 2, Need(glass, frost, BeamSource.BLUE, area, n, air), {})

    small, large = offer(pieces, Air(20, humidity)), offer(pieces + 5, Air(20, humidity))
    assert large.hands_min > small.hands_min
    assert large.cost > small.cost
    assert large.ready_h >= small.ready_h - 1e-9
    assert offer(pieces, Air(20, humidity + 10)).ready_h > small.ready_h
    assert hands_min_per_coat(tool, area) >= 0.2
