"""The API's description (OpenAPI 3.1) told whole: what it refuses with, and what its files are."""

import re
from dataclasses import dataclass
from typing import Any

from ninja import NinjaAPI
from ninja.openapi.schema import OpenAPISchema

from keencoat.shop.fields import MOST_BYTES

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


@dataclass(frozen=True)
class LargeBody:
    """An operation that takes files: its method, the shape of its address, and the most bytes of a request to it."""

    method: str
    address: re.Pattern[str]
    most_bytes: int


class DescribedAPI(NinjaAPI):
    """Adds to every operation that it may refuse, and how."""

    def large_bodies(self) -> list[LargeBody]:
        """The operations that say how large a body they take (`fields.takes`)."""
        return [
            LargeBody(method, re.compile("/api" + re.sub(r"{\w+}", "[^/]+", prefix + path)), extra[MOST_BYTES])
            for prefix, router in self._routers
            for path, view in router.path_operations.items()
            for operation in view.operations
            for method in operation.methods
            if MOST_BYTES in (extra := operation.openapi_extra or {})
        ]

    def get_openapi_schema(self, **how: Any) -> OpenAPISchema:  # noqa: ANN401 # as the parent takes it
        """The description, as served and as exported."""
        schema = super().get_openapi_schema(**how)
        schema["components"]["schemas"]["Problem"] = _PROBLEM
        for operations in schema["paths"].values():
            for operation in operations.values():
                for answer in operation["responses"].values():
                    _leave_out_json(answer.get("content", {}))
                answers = {str(status): answer for status, answer in operation["responses"].items()}
                operation["responses"] = answers | {"4XX": _REFUSED, "5XX": _REFUSED}
        return schema


def _leave_out_json(content: dict[str, Any]) -> None:
    """A file is what its handler says (`fields.sends`), not JSON, which the framework believes of all bytes."""
    schema = content.get("application/json", {}).get("schema", {})
    if schema.get("format") == "binary":
        said = "contentEncoding" in schema
        del content["application/json"]
        if said:
            content["application/json"] = {"schema": {}}
