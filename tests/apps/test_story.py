"""The whole story through the API, on a real PostgreSQL."""

import csv
import io
from datetime import UTC, datetime

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import IntegrityError, transaction
from PIL import Image
from pypdf import PdfReader

from keencoat.core.window.fit import DRAWS
from keencoat.jobs.demo import load_demo
from keencoat.jobs.models import LockedSetting
from keencoat.logbook.models import LogEntry
from keencoat.shop.models import Workshop
from tests.apps.conftest import wedge


def pdf_text(response):
    return "\n".join(page.extract_text() for page in PdfReader(io.BytesIO(response.content)).pages)


def test_from_blank_piece_to_run_sheet(api, django_assert_max_num_queries):
    job = api.job()
    assert job["next"]["code"] == "coat"
    plan = api.get(f"/jobs/{job['id']}/coat")
    assert plan["mix"]["total_ml"] > 10
    assert [step["direction_deg"] for step in plan["steps"]] == [0, 90]

    api.post(f"/jobs/{job['id']}/coat/lots", {"note": "stirred"})
    stamped = api.post(f"/jobs/{job['id']}/coat/stamps", {"number": 1})
    waiting = api.get(f"/jobs/{job['id']}")
    assert waiting["next"]["code"] == "wait_dry"
    assert waiting["drying"]["next_at"] > waiting["drying"]["put_on_at"]
    stamp_id = stamped["steps"][0]["stamps"][0]["id"]
    api.call("DELETE", f"/jobs/{job['id']}/coat/stamps/{stamp_id}")
    for number, at in ((1, "2026-01-05T08:00:00Z"), (2, "2026-01-05T09:00:00Z")):
        api.post(f"/jobs/{job['id']}/coat/stamps", {"number": number, "at": at})

    draft = api.post(f"/jobs/{job['id']}/grids/draft", {"interval_mm": 0.1})
    assert draft["id"] is None
    assert len(draft["cells"]) == 12
    grid = api.burned_grid(job)
    assert grid["label"] == "G-01"
    grid = api.rate(grid, wedge)
    assert grid["state"] == "rated"

    with django_assert_max_num_queries(26):
        window = api.get(f"/jobs/{job['id']}/window")
    best = window["recommendation"]
    assert best["verdict"] in ("sure", "not_sure")
    assert window["can_lock"]
    assert best["point"]["clean"]["low"] <= best["point"]["clean"]["mid"] <= best["point"]["clean"]["high"]
    setting = {k: best["point"][k] for k in ("power_pct", "speed_mm_s", "interval_mm", "passes")}
    elsewhere = api.post(f"/jobs/{job['id']}/window/point", setting | {"power_pct": 3})
    assert elsewhere["faint"] > best["point"]["faint"]
    locked = api.lock(job, setting)
    assert locked["locked"][0]["version"] == 1

    api.put("/session/units", {"speed_unit": "mm_min", "interval_unit": "lines_cm", "version": 1})
    sheet = api.get(f"/jobs/{job['id']}/run-sheet")
    assert sheet["sections"][0]["title"] == "Setting"
    words = pdf_text(api.get(f"/jobs/{job['id']}/run-sheet.pdf"))
    for wanted in ("mm/min", "lines/cm", "J/mm²", "450 nm", "Extraction", "Wash and inspect", job["name"]):
        assert wanted in words

    found = api.get("/logbook?words=cloche+float&coat=tempera_brushed&machine=Blue+twelve")
    assert {e["kind"] for e in found["entries"]} == {"job", "coat", "grid", "rating", "lock"}
    assert api.get("/logbook?words=acrylic")["total"] == 0


def test_files_of_a_grid(api):
    job = api.coated_job()
    grid = api.burned_grid(job, kind="blind", cell_mm=4, gap_mm=2)
    assert len(grid["cells"]) == 81
    text = pdf_text(api.get(f"/grids/{grid['id']}/files/pdf"))
    assert "I9" in text
    assert "G-01" in text
    rows = list(csv.DictReader(io.StringIO(api.get(f"/grids/{grid['id']}/files/csv").content.decode())))
    assert len(rows) == 81
    assert "M4" in api.get(f"/grids/{grid['id']}/files/gcode").content.decode()
    assert [f["code"] for f in grid["findings"]][:2] == ["blind-grid", "second-spare"]
    shown = [api.get(f"/grids/{grid['id']}/files/svg?spare={n}").content.count(b"data-power-pct") for n in (1, 2)]
    assert shown == [45, 36]
    png = Image.open(io.BytesIO(api.get(f"/grids/{grid['id']}/files/png").content))
    assert png.info["dpi"] == pytest.approx((254, 254), abs=0.02)
    assert len(api.get(f"/grids/{grid['id']}/files/json?spare=2")["cells"]) == 36
    api.get(f"/grids/{grid['id']}/files/gcode?spare=3", expect=422)
    assert "Known" in api.get(f"/grids/{grid['id']}/files/exe", expect=422)["hint"]


def upload(api, grid, data, expect=200):
    file = SimpleUploadedFile("rated.csv", data, content_type="text/csv")
    event = api.get(f"/jobs/{grid['job_id']}/grids")[-1]["rating_event"]
    response = api.client.post(f"/api/grids/{grid['id']}/ratings", {"file": file, "rating_event": event})
    assert response.status_code == expect, response.content
    return response.json()


def test_import_undo_and_half_a_grid(api):
    grid = api.burned_grid(api.coated_job())
    text = api.get(f"/grids/{grid['id']}/files/csv").content.decode()
    rows = list(csv.DictReader(io.StringIO(text)))
    for row in rows[:6]:
        row["rating"] = "clean"
    out = io.StringIO()
    writer = csv.DictWriter(out, rows[0].keys())
    writer.writeheader()
    writer.writerows(rows)
    half = upload(api, grid, out.getvalue().encode())
    assert half["state"] == "burned"
    assert api.get(f"/jobs/{grid['job_id']}")["grid"]["rated"] == 6
    assert upload(api, grid, b"a;b\n\xff\xfe", 422)["field"] == "file"
    assert upload(api, grid, b"x" * 10_000_000, 422)["field"] == "file"
    assert api.get(f"/jobs/{grid['job_id']}")["grid"]["rated"] == 6
    undone = api.post(f"/grids/{grid['id']}/undo", {"rating_event": half["rating_event"]})
    assert not any(c["rating"] for c in undone["cells"])
    api.post(f"/grids/{grid['id']}/undo", {"rating_event": 0}, expect=409)


def test_a_later_grid_makes_a_new_version_and_evidence_stays(api):
    job = api.coated_job()
    api.rate(api.burned_grid(job), wedge)
    setting = {"power_pct": 60, "speed_mm_s": 30, "interval_mm": 0.1, "passes": 1}
    api.lock(job, setting)
    second = api.burned_grid(job)
    assert api.get(f"/jobs/{job['id']}")["next"]["code"] == "rate"
    api.rate(second, wedge)
    window = api.lock(job, setting)
    assert [x["version"] for x in window["locked"]] == [2, 1]
    lock = LockedSetting.objects.get(version=2)
    assert [g["label"] for g in lock.evidence["grids"]] == ["G-01", "G-02"]
    assert lock.evidence["lots"][0]["code"]
    assert len(lock.evidence["fits"]["fills"]["draws"]) == DRAWS
    for rewrite in (
        lambda: LockedSetting.objects.update(newest_grid=9),
        lambda: LogEntry.objects.all().delete(),
        lambda: lock.save(),
    ):
        with pytest.raises(IntegrityError, match="never rewritten"), transaction.atomic():
            rewrite()


def test_no_clean_cell_says_what_to_try(api):
    job = api.coated_job()
    api.rate(api.burned_grid(job), lambda cell: "faint")
    best = api.get(f"/jobs/{job['id']}/window")["recommendation"]
    assert best["verdict"] == "not_sure"
    assert "Go up in energy" in best["advice"]
    before = max(c["energy_j_mm2"] for c in api.get(f"/jobs/{job['id']}/grids")[0]["cells"])
    after = api.post(f"/jobs/{job['id']}/grids/draft", {"interval_mm": 0.1, "passes": 3})
    assert max(c["energy_j_mm2"] for c in after["cells"]) > before
    assert best["point"]["energy_j_mm2"] > before


def test_demo_loads_once_and_shows_its_states(db):
    now = datetime.now(UTC)
    assert load_demo(now)
    assert not load_demo(now)
    assert Workshop.objects.count() == 1


def test_bench_lists_every_state(client, settings, db, django_assert_max_num_queries):
    settings.DEMO = True
    load_demo(datetime.now(UTC))
    demo = client.get("/api/session").json()["demo"]
    assert client.post("/api/session", demo, content_type="application/json").json()["signed_in"]
    with django_assert_max_num_queries(17):
        bench = client.get("/api/bench").json()
    assert {job["next"]["code"] for job in bench["jobs"]} == {"run", "rate", "wait_dry", "draw_grid"}
