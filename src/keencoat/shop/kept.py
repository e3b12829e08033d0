"""Answers kept as long as nothing that they rest on has changed.

The database itself counts the changes of each job and each workshop (triggers), so no write can be forgotten. Counts
make an answer's tag: a browser that has it is told so (304, RFC 9110), and another member is served what was
written out for the first.
"""

import os
import time
from collections.abc import Callable
from functools import wraps
from hashlib import sha256
from pathlib import Path
from threading import Lock
from typing import Any

from cachetools import LRUCache
from django.http import HttpRequest, HttpResponse

import keencoat

_MOST_BYTES = 48_000_000
_answers: LRUCache[str, bytes] = LRUCache(_MOST_BYTES, getsizeof=len)
_turn = Lock()


def _code_stamp() -> str:
    """Other code may answer otherwise: what it was is part of every tag."""
    files = sorted(Path(keencoat.__file__).parent.rglob("*.py"))
    return sha256("".join(f"{f} {os.stat(f).st_mtime_ns}" for f in files).encode()).hexdigest()


_CODE = _code_stamp()


def spell(seconds: int) -> int:
    """The number of the spell of time that it is now: answers that tell of time hold for one."""
    return int(time.time() // seconds)


Mark = Callable[..., tuple[object, ...] | None]


def kept(mark: Mark) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    """Keep a handler's answers by what `mark(request, **path)` counts; None where there is nothing to count."""

    def around(view: Callable[..., Any]) -> Callable[..., Any]:
        @wraps(view)
        def answer(request: HttpRequest, *args: Any, **asked: Any) -> Any:  # noqa: ANN401 # whatever the handler takes
            counted = mark(request, **{k: v for k, v in asked.items() if k.endswith("_id")})
            if counted is None:
                return view(request, *args, **asked)
            whole = (_CODE, request.get_full_path(), request.body, *counted)
            tag = f'"{sha256(repr(whole).encode()).hexdigest()[:32]}"'
            if request.headers.get("If-None-Match") == tag:
                return HttpResponse(status=304, headers=_headers(tag))
            with _turn:
                found = _answers.get(tag)
            if found is not None:
                return HttpResponse(found, content_type="application/json; charset=utf-8", headers=_headers(tag))
            request.kept_tag = tag  # type: ignore[attr-defined]
            return view(request, *args, **asked)

        return answer

    return around


def _headers(tag: str) -> dict[str, str]:
    return {"ETag": tag, "Cache-Control": "private, no-cache"}


def keep_answer(request: HttpRequest, response: HttpResponse) -> None:
    """Keep what was written out for a handler that is `kept`. Called with every response."""
    tag = getattr(request, "kept_tag", None)
    if tag is None or response.status_code != 200:
        return
    for name, value in _headers(tag).items():
        response.headers[name] = value
    if len(response.content) < _MOST_BYTES:
        with _turn:
            _answers[tag] = response.content
