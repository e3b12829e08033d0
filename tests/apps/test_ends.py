"""Every operation that writes, with values at the ends of what it accepts: whatever is taken, every page can be read.

The ways are other tests' own; before each of their writes it is tried with a field at an end, in a transaction that is
taken back."""

import gc
import json
import random
import re
from datetime import datetime

import pytest
from cachetools import Cache
from django.db import transaction

from tests.apps.conftest import OurClient
from tests.apps.test_batch import test_piece_by_piece_to_a_run_that_the_window_learns_from as a_batch
from tests.apps.test_coat_chapter import test_batches_dry_by_the_room_and_by_what_was_seen as a_coat
from tests.apps.test_contract import resolved
from tests.apps.test_cost import test_a_plan_rests_on_the_windows_own_yield as a_cost
from tests.apps.test_isolation import rows_of
from tests.apps.test_placing_chapter import (
    test_a_sheet_lies_as_its_corners_say_and_the_artwork_is_framed as a_sheet,
)
from tests.apps.test_placing_chapter import (
    test_a_tumbler_on_a_chuck_is_measured_by_tape_and_its_device_calibrated as a_tumbler,
)
from tests.apps.test_window_chapter import test_a_window_is_carried_to_another_machine_and_found_by_nearness as a_window

WAYS = {
    "rows": rows_of, "coat": a_coat, "window": a_window, "cost": a_cost, "batch": a_batch, "sheet": a_sheet,
    "tumbler": a_tumbler,
}  # fmt: skip
PAGES = 10
"""How many pages, chosen by chance, are read after each write that was tried; with -m bench all are."""
READS = re.compile(r"/api/(?!session|openapi|docs)[^{}]*(\{job_id\}[^{}]*)?$")


def ends(schema, part):
    """Values at the ends of what a field takes, by its description."""
    part = resolved(schema, part)
    options = part.get("anyOf") or part.get("allOf")
    if options:
        return [value for option in options for value in ends(schema, option)]
    if "enum" in part:
        return part["enum"]
    low, high = part.get("minimum", part.get("exclusiveMinimum")), part.get("maximum", part.get("exclusiveMaximum"))
    if part.get("type") == "integer":
        return [0 if low is None else low, 2**31 - 1 if high is None else high]
    if part.get("type") == "number":
        return [0.0, 1e-7 if low is None else low, 1e7 if high is None else high]
    if part.get("type") == "boolean":
        return [True, False]
    if part.get("format") == "date-time":
        return [datetime(year, 1, 1).isoformat() + "Z" for year in (2000, 2026, 2100)]
    if part.get("type") == "string":
        return ["", "é" * part.get("maxLength", 60), "0", "9" * 12]
    if part.get("type") == "array":
        return [[]]
    return [None] if part.get("type") == "null" else []


class Trying(OurClient):
    """Tries each write with fields at their ends before it does it."""

    def begin(self, pages):
        self.most_pages = pages
        self.schema = self.get("/api/openapi.json").json()
        self.paths = [
            (method.upper(), re.compile(re.sub(r"{\w+}", "[^/]+", path)), operation)
            for path, operations in self.schema["paths"].items()
            for method, operation in operations.items()
        ]
        self.pages = [
            path
            for path, operations in self.schema["paths"].items()
            if READS.fullmatch(path)
            and "application/json" in operations.get("get", {}).get("responses", {}).get("200", {}).get("content", {})
            and not any(p["required"] for p in operations["get"].get("parameters", ()) if p["in"] == "query")
        ]
        # What is kept goes by counts, which begin again where a transaction is taken back.
        self.caches = [each for each in gc.get_objects() if isinstance(each, Cache)]
        self.tried, self.taken, self.broken, self.is_trying = 0, 0, [], False

    def unread(self, addresses):
        """Which of these pages cannot be read."""
        said = {address: super(OurClient, self).generic("GET", address).status_code for address in addresses}
        return {address: code for address, code in said.items() if code == 422 or (code >= 500 and code != 503)}

    def some_pages(self):
        jobs = [job["id"] for job in super().generic("GET", "/api/jobs").json()]
        addresses = [path.format(job_id=job) for path in self.pages for job in (jobs if "{" in path else [0])]
        return random.SystemRandom().sample(addresses, min(self.most_pages, len(addresses)))

    def generic(self, method, path, data="", content_type="", **extra):
        if method in ("POST", "PUT") and content_type == "application/json" and not self.is_trying:
            body = json.loads(data or "{}")
            self.is_trying = True
            self.attempt(method, path, body)
            self.is_trying = False
        return super().generic(method, path, data, content_type, **extra)

    def attempt(self, method, path, body):
        operation = next((o for m, address, o in self.paths if m == method and address.fullmatch(path)), None)
        content = (operation or {}).get("requestBody", {}).get("content", {}).get("application/json")
        fields = resolved(self.schema, content["schema"]).get("properties", {}) if content else {}
        odd = [
            (name, value) for name, part in fields.items() for value in ends(self.schema, part) if "version" not in name
        ]
        if not odd:
            return
        name, value = random.SystemRandom().choice(odd)
        self.tried += 1
        with transaction.atomic():
            answer = super().generic(method, path, json.dumps(body | {name: value}), "application/json")
            worse = {path: answer.status_code} if answer.status_code == 500 else {}
            if answer.status_code < 300:
                self.taken += 1
                worse = self.unread(self.some_pages())
            transaction.set_rollback(True)
        for cache in self.caches:
            cache.clear()
        if worse := {address: code for address, code in worse.items() if code == 500 or not self.unread([address])}:
            self.broken.append((method, path, name, value, worse))


@pytest.mark.parametrize("pages", [PAGES, pytest.param(10_000, marks=pytest.mark.bench)])
@pytest.mark.parametrize("way", WAYS)
def test_whatever_a_write_takes_every_page_can_be_read(api, way, pages):
    member = api.shop.members.first().user
    api.client = Trying()
    api.client.force_login(member)
    api.client.begin(pages)
    WAYS[way](api)
    tried, taken = api.client.tried, api.client.taken
    print(f"{way}: {taken} of {tried} odd writes taken, {len(api.client.pages)} kinds of pages read")
    assert taken > 0 or 0 < tried < 10
    assert api.client.broken == []
