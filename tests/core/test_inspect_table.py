"""The table of causes and tests as docs/inspect.md prints it: no figure changes without a reader being told."""

from pathlib import Path

from keencoat.core.inspect import CAUSES, TESTS, CheapTest
from keencoat.core.inspect.causes import Cause
from keencoat.core.inspect.signs import FOLLOWS

DOC = (Path(__file__).parents[2] / "docs/inspect.md").read_text()


def row_of(cause: Cause) -> str:
    if cause.rated:
        r = cause.rated
        does = f"faint {r.faint:g}, clean {r.clean:g}, harsh {r.harsh:g}, spoilt {r.spoilt:g}"
    else:
        does = "through the window"
    if cause.shift and (cause.shift.energy_sd or cause.shift.film_sd):
        s = cause.shift
        parts = [("energy", s.energy, s.energy_sd), ("film", s.film, s.film_sd)]
        does += "".join(f"; ln {name} {mean:+g} ± {sd:g}" for name, mean, sd in parts if sd)
    if cause.ln_time[1]:
        does += f"; ln time {cause.ln_time[0]:+g} ± {cause.ln_time[1]:g}"
    tells = ", ".join(f"{sign} {chance:g}" for sign, chance in cause.tells.items()) or "–"
    return f"| {cause.label} (`{cause.key}`) | {cause.usual:g} | {does} | {tells} | {cause.stays:g} |"


def row_of_test(test: CheapTest) -> str:
    says = ", ".join(f"{c}: {a if isinstance(a, str) else ' or '.join(a)}" for c, a in test.says.items())
    return f"| {test.question} | {test.minutes:g} | {says}; else {test.usual} |"


def row_of_rating(rating: str, follows: dict[str, float]) -> str:
    return f"| {rating} | {', '.join(f'{sign} {chance:g}' for sign, chance in follows.items())} |"


def test_the_docs_print_every_cause_test_and_rating():
    rows = [
        *map(row_of, CAUSES.values()),
        *map(row_of_test, TESTS.values()),
        *(row_of_rating(rating.value, follows) for rating, follows in FOLLOWS.items()),
    ]
    missing = [row for row in rows if row not in DOC]
    assert not missing, "\n".join(missing)
