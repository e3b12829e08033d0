"""What a request may not hold is said in our words: what, where, what instead."""

from datetime import datetime
from decimal import Decimal
from typing import Annotated, Literal

import pytest
from pydantic import Field, ValidationError, create_model

from keencoat.site.refusals import refusal


@pytest.mark.parametrize(
    ("kind", "given", "said"),
    [
        (Annotated[Decimal, Field(ge=0)], -5, "Price is too small. Give 0 or more."),
        (Annotated[float, Field(gt=2.5)], 2.5, "Price is too small. Give more than 2.5."),
        (Annotated[int, Field(le=40)], 41, "Price is too large. Give 40 or less."),
        (Annotated[int, Field(lt=40)], 40, "Price is too large. Give less than 40."),
        (
            Annotated[Decimal, Field(decimal_places=2)],
            "1.234",
            "Price has more than 2 decimal places. Give it like 12.50.",
        ),
        (float, "much", "Price is no figure. Give it like 12.50."),
        (Annotated[float, Field(allow_inf_nan=False)], float("nan"), "Price is no figure. Give it like 12.50."),
        (int, 1.5, "Price is no whole number. Give it like 12."),
        (bool, "perhaps", "Price is neither true nor false. Give true or false."),
        (Annotated[str, Field(min_length=1)], "", "Price is too short. Give 1 or more characters."),
        (Annotated[str, Field(max_length=3)], "four", "Price is too long. Give at most 3 characters."),
        (Annotated[list[int], Field(max_length=1)], [1, 2], "Price has too many in it. Give at most 1."),
        (Literal["frost", "fuse"], "melt", "Price is none that is known. Give 'frost' or 'fuse'."),
        (datetime, "soon", "Price is no time. Give it like 2026-05-01T09:30:00Z."),
        (list[int], [1, "x"], "Price, number 2 is no whole number. Give it like 12."),
    ],
)
def test_it_is_said_what_is_wrong_and_what_to_give_instead(kind, given, said):
    with pytest.raises(ValidationError) as caught:
        create_model("Told", price=(kind, ...))(price=given)
    error = caught.value.errors()[0]
    field, detail, hint = refusal(error | {"loc": ("body", "told", *error["loc"])})
    assert (field.split(".")[0], f"{detail} {hint}") == ("price", said)


def test_an_error_without_words_of_ours_keeps_its_own():
    error = {"type": "value_error", "loc": ("query", "where_from"), "msg": "Value error, URL scheme should be https"}
    assert refusal(error) == (
        "where_from",
        "Where from: URL scheme should be https.",
        "See /api/docs for what belongs there.",
    )


def test_it_reaches_whoever_asked(api):
    refused = api.post("/jobs", api.job_body(pieces="many"), expect=422)
    assert (refused["field"], refused["detail"]) == ("pieces", "Pieces is no whole number.")
    assert refused["hint"] == "Give it like 12."
