"""Every operation of the description: what it changes is guarded by a version or a key, and what only asks changes
nothing."""

import json
import re

from django.db import connection, transaction
from django.test import Client
from django.utils import timezone

from keencoat.jobs.models import BroughtCard, CoatStamp, Job
from keencoat.shop.fields import ASKS_ONLY
from keencoat.shop.once import KEY_HEADER
from keencoat.site.api import api as described
from tests.apps.test_contract import resolved
from tests.apps.test_isolation import _FITTING, CARD, address_of, rows_of

SEEN = {"version", "rating_event", "seen", "was"}


def operations(api):
    schema = api.client.get("/api/openapi.json").json()
    for path, methods in sorted(schema["paths"].items()):
        for method, operation in sorted(methods.items()):
            yield schema, method.upper(), path, operation


def test_what_is_written_whole_says_what_it_saw(api):
    for schema, method, path, operation in operations(api):
        content = operation.get("requestBody", {}).get("content", {})
        body = resolved(schema, next(iter(content.values()))["schema"] if content else {})
        told = {p["name"] for p in operation.get("parameters", ())} | set(body.get("properties", ()))
        if method == "PUT" and path != "/api/session/password":
            assert told & SEEN, path
        key = next((p for p in operation.get("parameters", ()) if p["name"] == KEY_HEADER), None)
        writes = method != "GET" and path != "/api/session" and ASKS_ONLY not in operation
        assert (key is not None) == writes, path
        assert not writes or key["required"] == (not told & SEEN), path


def test_a_write_without_its_key_is_refused_before_anything_is_looked_for(api):
    plain = Client()
    plain.force_login(api.shop.members.first().user)
    needy = [one for one in described.operations if one.needs_key]
    assert len(needy) > 40
    for one in needy:
        address = re.sub(r"{\w+}", "0", one.path)
        answer = plain.generic(one.method, address, "{}", "application/json")
        assert (answer.status_code, answer.json()["field"]) == (400, KEY_HEADER), one.path


def test_what_only_asks_changes_nothing(api):
    ids = rows_of(api)
    asked = 0
    for _, method, path, operation in operations(api):
        if method != "GET" and ASKS_ONLY not in operation:
            continue
        body = (
            next((json.dumps(b) for end, b in _FITTING.items() if path.endswith(end)), "{}") if method != "GET" else ""
        )
        with transaction.atomic():
            with connection.cursor() as cursor:
                # PostgreSQL itself refuses what would change a row.
                cursor.execute("SET LOCAL transaction_read_only = on")
            answer = api.client.generic(method, address_of(path, ids), body, "application/json")
            transaction.set_rollback(True)
        assert answer.status_code < 500, (method, path, answer.content[:300])
        asked += answer.status_code == 200
    assert asked > 60


def test_one_row_that_cannot_be_read_hides_no_other(api):
    rows_of(api)
    bad = api.coated_job(name="Odd labels")
    CoatStamp.objects.filter(job_id=bad["id"]).update(number=99)
    Job.objects.filter(pk=bad["id"]).update(process="etched by moonlight")
    BroughtCard.objects.create(
        workshop=api.shop, uid="b-1", card=CARD | {"beam": "moonlight"}, brought_at=timezone.now()
    )
    for path in ("/jobs", "/bench"):
        jobs = api.get(path)
        assert bad["id"] not in {job["id"] for job in (jobs if path == "/jobs" else jobs["jobs"])}
    assert len(api.get("/jobs")) > 0
    assert [card["title"] for card in api.get("/setting-cards") if card["card_id"]] == [CARD["title"]]
    (told,) = api.get("/unreadable-jobs")
    assert (told["name"], "moonlight" in told["why"]) == ("Odd labels", True)
    api.put(f"/jobs/{bad['id']}/put-away", {"away": True, "version": told["version"]}, expect=204)
    (told,) = api.get("/unreadable-jobs")
    assert told["put_away"]
    api.call("DELETE", f"/jobs/{bad['id']}?version={told['version']}", expect=204)
    assert api.get("/unreadable-jobs") == []
