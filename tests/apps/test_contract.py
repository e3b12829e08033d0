"""The API keeps its word whatever it is sent: no 500, always a problem response, budgets of queries, no N + 1."""

import json
import random
from collections import Counter

from django.db import connection
from django.test.utils import CaptureQueriesContext

from keencoat.shop.fields import Asked, Shown
from tests.apps.conftest import wedge

NASTY = (
    None, True, "", "x", "\x00", "é" * 500, "9" * 400, -1, 0, 1, 0.5, 1e308, -1e308, 10**30, [], {}, [None] * 50,
    {"a": {"b": []}}, "2026-13-45T99:99:99Z", "0001-01-01T00:00:00Z", "own-1", "own-x",
)  # fmt: skip


def shapes_of(base):
    return [shape for sub in base.__subclasses__() for shape in (sub, *shapes_of(sub))]


def test_no_two_shapes_share_a_name():
    """The description knows a shape by its name alone: of two of one name it would describe one."""
    names = Counter(shape.__name__ for shape in {*shapes_of(Asked), *shapes_of(Shown)})
    assert len(names) > 200
    assert [name for name, count in names.items() if count > 1] == []


def test_what_is_answered_is_not_checked_as_what_is_asked():
    """A sum leaves rests (2·10⁻⁸ mm of a seam) that a request may not hold."""
    answers = [shape for shape in set(shapes_of(Asked)) if shape.__name__.endswith("Out")]
    assert len(answers) >= 5
    assert [shape.__name__ for shape in answers if not issubclass(shape, Shown)] == []


def resolved(schema, part):
    while "$ref" in part:
        part = schema["components"]["schemas"][part["$ref"].rsplit("/", 1)[1]]
    return part


def likely(schema, part, rng, depth=0):
    """A value that fits the schema, mostly."""
    part = resolved(schema, part)
    if "allOf" in part:
        return likely(schema, part["allOf"][0], rng, depth)
    if "anyOf" in part:
        return likely(schema, rng.choice(part["anyOf"]), rng, depth)
    if "enum" in part:
        return rng.choice(part["enum"])
    kind = part.get("type")
    if kind == "object" or "properties" in part:
        return {name: likely(schema, p, rng, depth + 1) for name, p in part.get("properties", {}).items()}
    if kind == "array":
        return [likely(schema, part.get("items", {}), rng, depth + 1) for _ in range(rng.randint(0, 3))]
    plain = {
        "integer": (1, 2, 7, 40),
        "number": (0.1, 1.0, 12.5, 80.0),
        "boolean": (True, False),
        "null": (None,),
        "string": ("rectangle", "frost", "soda_lime_glass", "tempera_brushed", "a name", "2026-01-05T08:00:00Z"),
    }
    return rng.choice(plain.get(kind, (None,)))


def spoiled(value, rng):
    """The value with one place in it replaced by something nasty."""
    if isinstance(value, dict) and value and rng.random() < 0.85:
        name = rng.choice(sorted(value))
        if rng.random() < 0.15:
            return {k: v for k, v in value.items() if k != name}
        return value | {name: spoiled(value[name], rng)}
    return rng.choice(NASTY)


def body_schema(operation):
    content = operation.get("requestBody", {}).get("content", {})
    return content.get("application/json", {}).get("schema")


def addresses(api, schema):
    """Every operation with ids of things that exist, so that bodies get as far as they can."""
    job = api.coated_job()
    grid = api.burned_grid(job)
    lot = api.get(f"/jobs/{job['id']}/coat")["lots"][0]["id"]
    stamp = api.get(f"/jobs/{job['id']}/coat")["steps"][0]["stamps"][0]["id"]
    ids = {
        "job_id": job["id"], "grid_id": grid["id"], "machine_id": api.machine.pk, "lot_id": lot, "stamp_id": stamp,
        "code": "A1", "kind": "csv", "picture": "view", "photo_id": 1, "test_id": 1, "experiment_id": 1, "coat_id": 1,
        "burn_id": 1, "word": "stop",
    }  # fmt: skip
    for path, methods in sorted(schema["paths"].items()):
        for method, operation in sorted(methods.items()):
            if "session" in path:
                continue
            address = path
            for name, value in ids.items():
                address = address.replace("{" + name + "}", str(value))
            yield method.upper(), address, operation


def assert_word_kept(response, method, address, body):
    said = (method, address, str(body)[:300], response.content[:300])
    assert response.status_code < 500, said
    if response.status_code >= 400:
        assert response["Content-Type"] == "application/problem+json", said
        problem = response.json()
        assert problem["detail"], said
        assert problem["status"] == response.status_code


def test_no_body_breaks_the_server(api):
    api.client.raise_request_exception = False
    schema = api.client.get("/api/openapi.json").json()
    rng = random.Random(1)
    tried = 0
    for method, address, operation in addresses(api, schema):
        wanted = body_schema(operation)
        if not wanted:
            continue
        for _ in range(20):
            body = spoiled(likely(schema, wanted, rng), rng)
            response = api.client.generic(method, address, json.dumps(body), "application/json")
            assert_word_kept(response, method, address, body)
            tried += 1
    assert tried > 400


def test_no_address_breaks_the_server(api):
    api.client.raise_request_exception = False
    schema = api.client.get("/api/openapi.json").json()
    for method, address, _ in addresses(api, schema):
        for strange in ("0", "-1", "99999999999999999999", "abc", "%00", "1e3"):
            twisted = address.replace("/1", f"/{strange}") if "/1" in address else f"{address}/{strange}"
            response = api.client.generic(method, twisted, "{}", "application/json")
            assert response.status_code < 500, (method, twisted)


BUDGETS = {
    "/bench": 17, "/jobs": 14, "/jobs/{id}": 14, "/jobs/{id}/coat": 18, "/jobs/{id}/coat/offers": 18,
    "/jobs/{id}/coat/proof": 20, "/jobs/{id}/grids": 16, "/jobs/{id}/window": 28, "/logbook": 8, "/catalogue": 6,
    "/shelf": 8, "/room": 5, "/machines": 5, "/experiments": 8,
    "/practice": 16, "/grids/{grid}/reading": 14,
    "/jobs/{id}/runs": 15, "/logged-burns": 11, "/setting-cards": 7,
}  # fmt: skip


def queries(api, path):
    with CaptureQueriesContext(
        connection,
    ) as captured:
        api.get(path)
    return len(captured)


def test_each_address_keeps_its_budget_however_much_there_is(api):
    job = api.coated_job()
    grid = job_grid(api, job)
    api.coated_job(name="A window that may lie near")
    paths = {path: path.replace("{id}", str(job["id"])).replace("{grid}", str(grid)) for path in BUDGETS}
    few = {path: queries(api, real) for path, real in paths.items()}
    for number in range(5):
        api.coated_job(name=f"More panes {number}")
        api.post("/shelf/coats", OWN | {"name": f"Own {number}"}, expect=201)
        api.post("/practice", {"scenario": "marker", "hidden": True}, expect=201)
        api.post("/room/readings", {"temperature_c": 18 + number, "humidity_pct": 50})
    many = {path: queries(api, real) for path, real in paths.items()}
    assert many == few
    assert {path: n for path, n in many.items() if n > BUDGETS[path]} == {}


def job_grid(api, job):
    """A rated grid; a second practice later must not cost a query more."""
    api.post("/practice", {"scenario": "cloche"}, expect=201)
    return api.rate(api.burned_grid(job), wedge)["id"]


OWN = {
    "name": "Own", "parts": [{"ingredient": "soot", "parts": 1}], "carrier": "water", "tools": ["soft_brush"],
    "coats": 1, "between_min": 5, "before_burn_min": 5, "film_um": 9, "solids_pct": 20, "removal": "water",
    "absorbs": ["blue"], "serves": ["frost"],
}  # fmt: skip
