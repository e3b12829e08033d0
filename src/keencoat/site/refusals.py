"""What a request's body or address may not hold, in our words: what is wrong, and what to give instead."""

from collections.abc import Mapping, Sequence
from typing import Any

_SAID = (
    ("missing", "is missing", "Give it."),
    ("extra_forbidden", "is not known here", "Leave it out."),
    ("greater_than_equal", "is too small", "Give {ge} or more."),
    ("greater_than", "is too small", "Give more than {gt}."),
    ("less_than_equal", "is too large", "Give {le} or less."),
    ("less_than", "is too large", "Give less than {lt}."),
    ("multiple_of", "is no multiple of {multiple_of}", "Give one that is."),
    ("string_type", "is no text", "Give a text."),
    ("string_too_short", "is too short", "Give {min_length} or more characters."),
    ("string_too_long", "is too long", "Give at most {max_length} characters."),
    ("string_pattern_mismatch", "is not written as it should be", "Give what matches {pattern}."),
    ("too_short", "has too few in it", "Give at least {min_length}."),
    ("too_long", "has too many in it", "Give at most {max_length}."),
    ("enum literal_error", "is none that is known", "Give {expected}."),
    ("list_type", "is no list", "Give a list."),
    ("dict_type model_attributes_type", "is no object", "Give an object."),
    ("decimal_type decimal_parsing float_type float_parsing finite_number", "is no figure", "Give it like 12.50."),
    ("decimal_max_places", "has more than {decimal_places} decimal places", "Give it like 12.50."),
    ("decimal_max_digits", "has more than {max_digits} digits", "Give fewer."),
    ("decimal_whole_digits", "has more than {whole_digits} digits before the point", "Give fewer."),
    ("int_type int_parsing int_parsing_size int_from_float", "is no whole number", "Give it like 12."),
    ("bool_type bool_parsing", "is neither true nor false", "Give true or false."),
    ("date_type date_parsing date_from_datetime_parsing date_from_datetime_inexact", "is no date",
     "Give it like 2026-05-01."),
    ("datetime_type datetime_parsing datetime_from_date_parsing timezone_aware", "is no time",
     "Give it like 2026-05-01T09:30:00Z."),
)  # fmt: skip
"""Pydantic's names of errors; what is wrong, and what to give instead, with the error's own figures."""
_INSTEAD = {name: (wrong, instead) for names, wrong, instead in _SAID for name in names.split()}


def refusal(error: Mapping[str, Any]) -> tuple[str, str, str]:
    """Of one of Pydantic's errors: the field by its path, what is wrong with it, and what to give instead."""
    # It starts with where it was sent (body, query …); in a body our own parameter's name comes next.
    sent, *path = (str(part) for part in error["loc"])
    if sent == "body":
        path = path[1:]
    wrong, instead = _INSTEAD.get(error["type"], ("", ""))
    if not wrong:
        own = error["msg"].removeprefix("Value error, ")
        return ".".join(path), f"{_spoken(path)}: {own}.", "See /api/docs for what belongs there."
    told = error.get("ctx", {})
    return ".".join(path), f"{_spoken(path)} {wrong.format(**told)}.", instead.format(**told)


def _spoken(path: Sequence[str]) -> str:
    """A field as one says it: of a list's entry, which one."""
    if not path:
        return "The request"
    words = [f"number {int(part) + 1}" if part.isdecimal() else part.replace("_", " ") for part in path]
    return ", ".join(words).capitalize()
