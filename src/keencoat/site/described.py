"""The API's description (OpenAPI 3.1) told whole: what it refuses with, and what its files are."""

import re
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from ninja import NinjaAPI
from ninja.openapi.schema import OpenAPISchema
from ninja.operation import Operation

from keencoat.shop.fields import ASKS_ONLY, MOST_BYTES
from keencoat.shop.once import KEY_HEADER, LONGEST_KEY

_PROBLEM = {
    "title": "Problem",
    "description": "What is wrong, where, and what instead (RFC 9457).",
    "type": "object",
    "required": ["type", "title", "status", "detail", "field", "hint"],
    "properties": {
        "type": {"type": "string", "description": "Its kind, a path under /problems, or about:blank."},
        "title": {"type": "string"},
        "status": {"type": "integer"},
        "detail": {"type": "string", "description": "What is wrong."},
        "field": {"type": "string", "description": "Where, as a dotted path; empty for the whole request."},
        "hint": {"type": "string", "description": "What instead."},
        "instance": {"type": "string", "description": "What the log calls it by."},
    },
}
_REFUSED = {
    "description": "A problem.",
    "content": {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}},
}


_SEEN = {"version", "rating_event", "seen", "was"}
"""Fields by which a request says what it saw: it is refused where that has changed since."""

_SIGNS_IN = "/session"
"""A session is whoever's it is: sent twice, it is the same."""


@dataclass(frozen=True)
class Described:
    """What an operation says of itself: its method and address, the most bytes of a request to it where it takes files,
    whether it changes something, and whether it then needs a key because it asks for no version."""

    method: str
    path: str
    address: re.Pattern[str]
    most_bytes: int | None
    writes: bool
    needs_key: bool


_KEY = {
    "name": KEY_HEADER,
    "in": "header",
    "schema": {"type": "string", "format": "uuid", "maxLength": LONGEST_KEY},
    "description": "The same each time the same request is sent: it is done once, and answered as the first time.",
}


class DescribedAPI(NinjaAPI):
    """Adds to every operation that it may refuse, and how."""

    @cached_property
    def operations(self) -> list[Described]:
        """All operations."""
        return [
            _described(method, f"/api{prefix}{path}", operation)
            for prefix, router in self._routers
            for path, view in router.path_operations.items()
            for operation in view.operations
            for method in operation.methods
        ]

    def operation_at(self, method: str, path: str) -> Described | None:
        """The operation that a request is for, if there is one."""
        return next((one for one in self.operations if one.method == method and one.address.fullmatch(path)), None)

    def get_openapi_schema(self, **how: Any) -> OpenAPISchema:  # noqa: ANN401 # as the parent takes it
        """The description, as served and as exported."""
        schema = super().get_openapi_schema(**how)
        schema["components"]["schemas"]["Problem"] = _PROBLEM
        known = {(one.path, one.method.lower()): one for one in self.operations}
        for path, operations in schema["paths"].items():
            for method, operation in operations.items():
                told = known[path, method]
                if told.writes:
                    operation.setdefault("parameters", []).append(_KEY | {"required": told.needs_key})
                for answer in operation["responses"].values():
                    _leave_out_json(answer.get("content", {}))
                answers = {str(status): answer for status, answer in operation["responses"].items()}
                operation["responses"] = answers | {"4XX": _REFUSED, "5XX": _REFUSED}
        return schema


def _described(method: str, path: str, operation: Operation) -> Described:
    extra = operation.openapi_extra or {}
    writes = method != "GET" and ASKS_ONLY not in extra and operation.path != _SIGNS_IN
    address = re.compile(re.sub(r"{\w+}", "[^/]+", path))
    needs_key = writes and _SEEN.isdisjoint(_fields_of(operation))
    return Described(method, path, address, extra.get(MOST_BYTES), writes, needs_key)


def _fields_of(operation: Operation) -> set[str]:
    """The names of all that a request to it may say, in its address or its body."""
    sent = {name: field for model in operation.models for name, field in model.model_fields.items()}
    inner = {name for field in sent.values() for name in getattr(field.annotation, "model_fields", {})}
    return sent.keys() | inner


def _leave_out_json(content: dict[str, Any]) -> None:
    """A file is what its handler says (`fields.sends`), not JSON, which the framework believes of all bytes."""
    schema = content.get("application/json", {}).get("schema", {})
    if schema.get("format") == "binary":
        said = "contentEncoding" in schema
        del content["application/json"]
        if said:
            content["application/json"] = {"schema": {}}
