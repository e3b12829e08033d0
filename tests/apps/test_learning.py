"""A workshop that learns: what a job begins from, when that stands still, and who does not teach."""

from tests.apps.conftest import BLUE
from tests.apps.test_window_chapter import lock, rounds


def window_of(api, job):
    return api.get(f"/jobs/{job['id']}/window")


def began(api, job):
    """The words beside each of the jobs that a job's window began from."""
    return {source["job_id"]: source["words"] for source in window_of(api, job)["sources"]}


def centre(api, job):
    return window_of(api, job)["fit"]["prior_centre_j_mm2"]


def locked_job(api, **changes):
    job = api.coated_job(spares=9, **changes)
    lock(api, job, rounds(api, job))
    return job


def test_a_second_job_begins_from_the_first_and_needs_a_piece_less(api, stranger):
    plain = api.coated_job(spares=9)
    catalogue = centre(api, plain)
    first = locked_job(api)
    second = api.coated_job(spares=9)
    window = window_of(api, second)
    assert began(api, second) == {first["id"]: "same coat, substrate and machine; counts in full"}
    assert window["begun"].startswith("Begun from 1 earlier window of yours of the same kind; the catalogue counts for")
    assert window["recommendation"]["point"]["clean"]["mid"] > 0.8
    draft = api.post(f"/jobs/{second['id']}/grids/draft", {"kind": "next", "interval_mm": 0.1, "passes": 1})
    assert draft["ahead"]["begun"] == window["begun"]
    assert (draft["ahead"]["pieces"], window["can_lock"]) == (1, False)
    taken = len(api.get(f"/jobs/{first['id']}/grids"))
    window = rounds(api, second)
    assert window["recommendation"]["lock_now"]
    assert len(api.get(f"/jobs/{second['id']}/grids")) < taken

    # What differs is said, and tells less; another process is another matter.
    twin = api.post("/machines", BLUE | {"name": "Twin of more watts", "rated_w": 20}, expect=201)
    elsewhere = api.coated_job(machine_id=twin["id"])
    assert set(began(api, elsewhere).values()) == {"another machine; counts in full"}
    assert abs(centre(api, elsewhere) / catalogue - 1) < abs(centre(api, plain) / catalogue - 1)
    assert began(api, api.job(process="fuse", substrate="white_glazed_tile", coat="tio2_glue")) == {}
    assert began(stranger, stranger.coated_job()) == {}


def test_a_tick_turns_it_off_and_a_stale_one_is_refused(api):
    first = locked_job(api)
    job = api.coated_job()
    learned = centre(api, job)
    path, version = f"/jobs/{job['id']}/learning", api.get(f"/jobs/{job['id']}")["version"]
    alone = api.put(path, {"learns": False, "version": version})
    assert (alone["learns"], window_of(api, job)["begun"], began(api, job)) == (False, "", {})
    assert centre(api, job) != learned
    assert api.put(path, {"learns": True, "version": version}, expect=409)["field"] == "version"
    api.put(path, {"learns": True, "version": alone["version"]})
    assert (list(began(api, job)), centre(api, job)) == ([first["id"]], learned)


def test_what_a_job_began_from_stands_still_once_its_grid_is_burned(api):
    """A run of the first job teaches whoever burns afterwards, and nobody who burned before."""
    first = locked_job(api)
    early, late = api.coated_job(spares=9), api.coated_job(spares=9)
    api.rate(api.burned_grid(early, kind="next"), lambda cell: "clean")
    before = centre(api, early), centre(api, late)
    mark = window_of(api, late)["evidence_mark"]
    api.post(f"/jobs/{first['id']}/runs", {"clean": 1, "faint": 19, "lock_version": 1}, expect=201)
    assert centre(api, early) == before[0]
    assert centre(api, late) > 1.02 * before[1]
    assert window_of(api, late)["evidence_mark"] != mark
    another = locked_job(api)
    assert set(began(api, early)) == {first["id"]}
    assert set(began(api, late)) == {first["id"], another["id"]}


def test_a_hidden_practice_and_the_arms_of_a_comparison_begin_from_the_catalogue(api):
    first = locked_job(api)
    practice = api.post("/practice", {"scenario": "cloche", "hidden": True}, expect=201)
    assert (practice["learns"], began(api, practice)) == (True, {})
    carried = api.post(
        f"/jobs/{first['id']}/window/carry/job",
        {"machine_id": first["machine_id"], "interval_mm": 0.1, "passes": 1},
        expect=201,
    )
    api.put(f"/jobs/{carried['id']}/learning", {"learns": False, "version": carried["version"]})
    assert list(began(api, carried)) == [first["id"]]
