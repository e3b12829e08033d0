"""What a good piece costs and sells for, from the locked setting's own yield to quote and receipt."""

import csv
import io
from decimal import Decimal

import pytest

from keencoat.jobs.models import TestGrid
from tests.apps.test_batch import GOGGLES, begun, burned_off
from tests.apps.test_placing_chapter import locked
from tests.apps.test_story import pdf_text

D = Decimal
HEAD = "Garden workshop\n2 Fern Walk"
RATES = {
    "hand_hour": "30.00", "machine_hour": "6.00", "kwh": "0.4", "draw_w": "900", "fee_share": "0.1", "tax_share": "0",
    "letterhead": "",
}  # fmt: skip
TOLD = {
    "blank": "1.20", "consumables": "0.05", "hands_min": "4", "finish_min": "3", "machine_min": "10", "setup_min": "30",
    "margin": "0.40", "for_whom": "Herb garden", "version": 0,
}  # fmt: skip


def say(api, job, expect=200, **changes):
    was = api.get(f"/jobs/{job['id']}/cost")["version"]
    return api.put(f"/jobs/{job['id']}/cost", TOLD | {"version": was} | changes, expect)


def rated(api):
    now = api.get("/rates")
    return api.put("/rates", RATES | {"version": now["version"]})


def write(api, job, kind, price, expect=201):
    return api.post(f"/jobs/{job['id']}/slips", {"kind": kind, "price": price}, expect)


def lines(priced):
    return {line["kind"]: D(line["amount"]) for line in priced["lines"]}


def test_rates_are_a_guess_until_the_shop_says_its_own(api, stranger):
    before = api.get("/rates")
    assert (before["own"], before["currency"]) == (False, "€")
    after = rated(api)
    assert after["own"]
    assert D(after["hand_hour"]) == 30
    api.put("/rates", RATES | {"version": before["version"]}, expect=409)
    assert not stranger.get("/rates")["own"]
    for wrong in (
        {"hand_hour": "-1"},
        {"kwh": "NaN"},
        {"fee_share": "0.95"},
        {"draw_w": "1e9"},
        {"hand_hour": "1.234"},
    ):
        refused = api.put("/rates", RATES | wrong | {"version": after["version"]}, expect=422)
        assert refused["field"] == next(iter(wrong))
    # What is not said must not be emptied.
    silent = {name: told for name, told in RATES.items() if name != "letterhead"} | {"version": after["version"]}
    assert api.put("/rates", silent, expect=422)["detail"] == "Letterhead is missing."


def test_nothing_is_reckoned_before_a_window_is_known(api):
    job = api.job()
    found = api.get(f"/jobs/{job['id']}/cost")
    assert found["plan"] is found["clean"] is found["done"] is None
    assert "grid" in found["why_not"]
    assert api.get(f"/jobs/{job['id']}/search")["pieces"] == 0
    assert api.post(f"/jobs/{job['id']}/slips", {"kind": "quote", "price": "4"}, expect=409)["field"] == "kind"
    # What the hands and the coat take is known all the same.
    assert D(found["usual"]["coat"]) > 0
    assert D(found["usual"]["hands_min"]) > D("2.5")


def test_a_plan_rests_on_the_windows_own_yield(api):
    rated(api)
    job, point = locked(api)
    plan = say(api, job)["plan"]
    clean = api.post(
        f"/jobs/{job['id']}/window/point", {k: point[k] for k in ("power_pct", "speed_mm_s", "interval_mm", "passes")}
    )["clean"]
    assert plan["good"] == job["pieces"]
    assert plan["burned"] == pytest.approx(job["pieces"] / clean["mid"])
    found = lines(plan)
    n = job["pieces"]
    assert found["blanks"] == D("1.20") * n
    assert found["hands"] == D(2) * n
    assert found["machine"] == D(1) * n
    assert found["power"] == D("0.06") * n
    assert found["finishing"] == D("1.50") * n
    assert found["setup"] == 15
    coat = D(api.get(f"/jobs/{job['id']}/cost")["usual"]["coat"])
    assert found["coat"] == (coat * n).quantize(D("0.01"))
    grid = TestGrid.objects.get()
    hour = D(str(round(grid.burn_seconds / 60, 4))) / 60
    tests = grid.spares * (D("1.25") + coat) + D("7.50") + hour * (D(6) + D("0.36"))
    assert abs(found["tests"] - tests) <= D("0.01")
    # The Window page says the same beside the lock.
    spent = api.get(f"/jobs/{job['id']}/search")
    assert (spent["pieces"], spent["cells"]) == (grid.spares, grid.cells.count())
    assert spent["burn_min"] * 60 == pytest.approx(grid.burn_seconds, abs=0.01)
    assert D(spent["cost"]) == found["tests"]
    each = D("1.20") + coat + D("0.05") + D("3.06")
    assert abs(found["lost"] - each * D(str(plan["burned"] - n))) <= D("0.01")
    assert D(plan["total"]) == sum(found.values())
    low, mid, high = (D(plan["per_good"][x]) for x in ("low", "mid", "high"))
    assert low <= mid <= high
    assert abs(mid - D(plan["total"]) / n) <= D("0.01")
    assert D(plan["price"]) >= D(plan["total"]) / n / D("0.5")
    wage = say(api, job, by_wage=True, wage="45")["plan"]
    assert abs(D(wage["earned"]) - 45) < D("0.2")


def test_what_else_could_be_done_is_reckoned_beside_it(api):
    rated(api)
    job, _ = locked(api)
    found = say(api, job)
    mid = D(found["plan"]["per_good"]["mid"])
    by_kind = {}
    for way in found["what_ifs"]:
        by_kind.setdefault(way["kind"], []).append(way)
    few, many = by_kind["size"]
    # Setting up and test pieces are shared by more.
    assert D(few["per_good"]["mid"]) > mid > D(many["per_good"]["mid"])
    assert few["words"].startswith(str(job["pieces"] // 2))
    assert len(by_kind["coat"]) == 3
    assert all(way["setting"] for way in by_kind["setting"])


def test_a_closed_batch_says_what_it_did_cost_and_quote_and_receipt_show_no_cost(api):
    api.put("/rates", RATES | {"tax_share": "0.19", "letterhead": HEAD, "version": api.get("/rates")["version"]})
    api.post("/eyewear", GOGGLES, expect=201)
    job, _ = locked(api)
    found = say(api, job)
    assert found["done"] is None
    assert "closed" in write(api, job, "receipt", found["plan"]["price"], expect=409)["detail"]
    batch = begun(api, job)
    for number in range(1, job["pieces"] + 1):
        batch = burned_off(api, batch, number, "clean" if number > 3 else "faint")
    api.post(f"/batches/{batch['id']}/close")
    found = api.get(f"/jobs/{job['id']}/cost")
    done, good = found["done"], job["pieces"] - 3
    assert (done["good"], done["burned"], found["done_batch"]) == (good, job["pieces"], 1)
    assert lines(done)["blanks"] == D("1.20") * good
    assert done["per_good"]["low"] == done["per_good"]["high"]
    quote = write(api, job, "quote", found["plan"]["price"])
    receipt = write(api, job, "receipt", quote["price"])
    assert (quote["good"], receipt["good"], quote["price"]) == (job["pieces"], good, found["plan"]["price"])
    for slip, priced in ((quote, found["plan"]), (receipt, done)):
        words = pdf_text(api.get(f"/slips/{slip['id']}/slip.pdf"))
        net = D(quote["price"]) * slip["good"]
        assert (D(slip["net"]), D(slip["asked"])) == (net, net + D(slip["tax"]))
        for told in (slip["code"], job["name"], "Herb garden", *HEAD.splitlines(), f"{net:.2f} €", "Tax, 19 %",
                     f"{D(slip['asked']):.2f} €"):  # fmt: skip
            assert told in words
        assert str(priced["total"]) not in words
        assert ("good until" in words) == (slip is quote)


def test_slips_are_numbered_without_a_gap_and_never_change(api, stranger):
    job, _ = locked(api)
    price = say(api, job)["plan"]["price"]
    first = write(api, job, "quote", price)
    year = first["written"][:4]
    second, same = (
        api.client.post(
            f"/api/jobs/{job['id']}/slips",
            '{"kind": "quote", "price": "5.5"}',
            "application/json",
            headers={"Idempotency-Key": "one press"},
        ).json()
        for _ in range(2)
    )
    assert same == second
    assert [s["code"] for s in (first, second)] == [f"Q {year}-001", f"Q {year}-002"]
    assert api.get(f"/jobs/{job['id']}/cost")["quoted_price"] == "5.50"
    gone = api.post(f"/slips/{second['id']}/withdraw")["withdrawn_at"]
    assert gone
    assert api.post(f"/slips/{second['id']}/withdraw")["withdrawn_at"] == gone
    assert "withdrawn" in pdf_text(api.get(f"/slips/{second['id']}/slip.pdf"))
    # What is said later changes no slip, and no number comes twice.
    say(api, job, blank="9", for_whom="Fernery")
    third = write(api, job, "quote", "0")
    found = api.get(f"/jobs/{job['id']}/cost")
    assert (found["quoted_price"], third["code"], third["for_whom"]) == ("0.00", f"Q {year}-003", "Fernery")
    assert [s["code"] for s in found["slips"]] == [s["code"] for s in (third, second, first)]
    assert found["slips"][2] == first
    other, _ = locked(stranger)
    assert write(stranger, other, "quote", "1")["code"] == f"Q {year}-001"
    for wrong in ("NaN", "-1", "1e308", "1.234", ""):
        assert write(api, job, "quote", wrong, expect=422)["field"] == "price"
    # The job goes, the numbers stay.
    seen = api.get(f"/jobs/{job['id']}")["version"]
    api.call("DELETE", f"/jobs/{job['id']}?version={seen}", expect=204)
    rows = list(csv.DictReader(io.StringIO(api.get("/slips.csv").content.decode())))
    assert [(r["number"], r["for"], r["each"]) for r in rows] == [
        (first["code"], "Herb garden", price),
        (second["code"], "Herb garden", "5.50"),
        (third["code"], "Fernery", "0.00"),
    ]
    assert [bool(r["withdrawn"]) for r in rows] == [False, True, False]
    assert first["code"] in pdf_text(api.get(f"/slips/{first['id']}/slip.pdf"))


def test_what_is_said_is_checked_kept_and_not_overwritten(api, stranger):
    job, _ = locked(api)
    say(api, job)
    api.put(f"/jobs/{job['id']}/cost", TOLD | {"version": 0}, expect=409)
    kept = say(api, job, machine_min=None, hands_min=None)
    assert kept["told"]["machine_min"] is None
    assert D(kept["told"]["blank"]) == D("1.20")
    assert kept["version"] == 2
    for wrong, field in (
        ({"blank": "-0.01"}, "blank"),
        ({"blank": "NaN"}, "blank"),
        ({"blank": "1e308"}, "blank"),
        ({"blank": "0.001"}, "blank"),
        ({"margin": "0.96"}, "margin"),
        ({"for_whom": "a\0"}, "for_whom"),
        ({"hands_min": "-1"}, "hands_min"),
    ):
        assert say(api, job, 422, **wrong)["field"] == field
    rated(api)
    assert say(api, job, margin="0.90")["why_not"].startswith("Margin and fees")
    stranger.get(f"/jobs/{job['id']}/cost", expect=404)
