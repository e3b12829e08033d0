"""Setting cards: locked settings as workshops trade them, by JSON of a documented schema, or as a CSV table."""

import csv
import io
import json
import math
from collections.abc import Sequence
from dataclasses import asdict, dataclass, fields
from functools import cache
from importlib.resources import files
from typing import Any

from jsonschema import Draft202012Validator, FormatChecker, ValidationError

from keencoat.core.errors import BadValueError
from keencoat.core.quantities import Art, BeamSource, Machine, Setting, areal_energy_j_mm2
from keencoat.core.substrate import find_process, find_substrate

CARDS_FORMAT = "keencoat-setting-cards"
MAX_CARDS_BYTES = 2_000_000
_WHOLE = ("coats", "passes", "pieces_clean", "pieces_seen")
_RISKY = ("=", "+", "-", "@")
"""A spreadsheet takes text that begins so for a formula."""


@dataclass(frozen=True)
class SettingCard:
    """A locked setting with what it rests on. `coat`: its key in the catalogue, "" for a workshop's own; `film_um` and
    `thickness_mm` are 0 where nobody told; `clean_low` to `clean_high` hold the expected share of clean pieces nine
    times in ten; `pieces_clean` of `pieces_seen` came out clean in runs."""

    uid: str
    workshop: str
    title: str
    locked_on: str
    substrate: str
    process: str
    art: Art
    coat: str
    coat_words: str
    coats: int
    film_um: float
    thickness_mm: float
    machine_words: str
    beam: BeamSource
    rated_w: float
    spot_mm: float
    power_pct: float
    speed_mm_s: float
    interval_mm: float
    passes: int
    clean_low: float
    clean: float
    clean_high: float
    evidence: str
    pieces_clean: int
    pieces_seen: int

    def setting(self) -> Setting:
        """The setting."""
        return Setting(self.power_pct, self.speed_mm_s, self.interval_mm, self.passes)

    def machine(self) -> Machine:
        """The beam that it was burned with, on a machine of no limits that matter."""
        return Machine(self.beam, self.rated_w, self.spot_mm, 0.01, 20_000, 0.1, 1000, 1000, 1000)

    def energy_j_mm2(self) -> float:
        """Its areal energy, J/mm², by the rating plate."""
        return areal_energy_j_mm2(self.setting(), self.machine())


_COLUMNS = tuple(f.name for f in fields(SettingCard))
_UNSAID: dict[str, Any] = {
    "workshop": "", "title": "", "locked_on": "", "coat": "", "film_um": 0.0, "thickness_mm": 0.0, "machine_words": "",
    "clean_low": 0.0, "clean": 0.5, "clean_high": 1.0, "pieces_clean": 0, "pieces_seen": 0,
}  # fmt: skip


def cards_schema() -> dict[str, Any]:
    """What the document must look like, as JSON Schema of draft 2020-12."""
    found: dict[str, Any] = json.loads(
        files("keencoat.core.exchange").joinpath("setting_cards.schema.json").read_text()
    )
    return found


def write_cards(cards: Sequence[SettingCard], workshop: str, made_at: str) -> str:
    """Cards as a JSON document."""
    document = {
        "format": CARDS_FORMAT,
        "version": 1,
        "made_at": made_at,
        "workshop": workshop,
        "cards": [_facts(card) for card in cards],
    }
    return json.dumps(document, indent=1, ensure_ascii=False, allow_nan=False)


def write_cards_csv(cards: Sequence[SettingCard]) -> str:
    """Cards as a table, one a row. Text that a spreadsheet would take for a formula has an apostrophe before it."""
    out = io.StringIO()
    writer = csv.DictWriter(out, (*_COLUMNS, "energy_j_mm2"))
    writer.writeheader()
    for card in cards:
        writer.writerow({name: harmless(value) for name, value in _facts(card).items()})
    return out.getvalue()


def read_cards(data: bytes) -> list[SettingCard]:
    """The cards of a JSON document or a CSV table.

    Raises BadValueError that says where it went wrong: too large, another encoding, not of the schema, a substrate or
    process that nobody knows, more clean pieces than were seen."""
    if len(data) > MAX_CARDS_BYTES:
        raise BadValueError(
            f"The file has {len(data) / 1e6:.1f} MB; {MAX_CARDS_BYTES // 1_000_000} MB is the most.",
            field="file",
            hint="A card takes about 1 kB: choose a file of setting cards.",
        )
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise BadValueError(
            f"Byte {error.start + 1} is not UTF-8 text.", field="file", hint="Save it as JSON or CSV, UTF-8."
        ) from error
    document = _document(text) if text.lstrip().startswith(("{", "[")) else _table(text)
    worst = next(
        iter(sorted(_validator().iter_errors(document), key=lambda e: [str(p) for p in e.absolute_path])), None
    )
    if worst is not None:
        raise BadValueError(
            f"{_place(worst)}: {_told(worst)}.", field="file", hint="docs/formats.md says what it holds."
        )
    return [_card(facts, f"Card {number}") for number, facts in enumerate(document["cards"], 1)]


@cache
def _validator() -> Draft202012Validator:
    return Draft202012Validator(cards_schema(), format_checker=FormatChecker(["date"]))


def _place(error: ValidationError) -> str:
    path = list(error.absolute_path)
    if len(path) < 2 or path[0] != "cards":
        return "The document"
    return f"Card {int(path[1]) + 1}" + (f", {path[2]}" if len(path) > 2 else "")


def _told(error: ValidationError) -> str:
    return error.message if len(error.message) < 160 else f"{error.message[:60]} … ({error.validator} does not hold)"


def _document(text: str) -> dict[str, Any]:
    try:
        found = json.loads(text, parse_constant=_no_number)
    except json.JSONDecodeError as error:
        where = f"line {error.lineno}, column {error.colno}: {error.msg}"
        raise BadValueError(f"This JSON cannot be read: {where}.", field="file", hint="Save it again.") from error
    except (RecursionError, ValueError) as error:
        raise BadValueError(
            "This JSON is nested too deep, or holds a figure that is none.", field="file", hint="Save it again."
        ) from error
    if not isinstance(found, dict) or found.get("format") != CARDS_FORMAT:
        raise BadValueError(
            "This JSON holds no setting cards.", field="file", hint=f'It needs "format": "{CARDS_FORMAT}".'
        )
    return found


def _table(text: str) -> dict[str, Any]:
    reader = csv.DictReader(io.StringIO(text))
    if "uid" not in (reader.fieldnames or ()):
        raise BadValueError(
            "The first line has no column “uid”.", field="file", hint=f"Known columns: {', '.join(_COLUMNS)}."
        )
    cards: list[dict[str, Any]] = []
    try:
        for row in reader:
            card: dict[str, Any] = {}
            for name, value in row.items():
                unsaid = value == "" and (name in _FIGURES or name == "locked_on")
                if name == "energy_j_mm2" or not isinstance(value, str) or unsaid:
                    continue
                card[str(name)] = _cell(str(name), value)
            cards.append(card)
    except csv.Error as error:
        raise BadValueError(
            f"Line {reader.line_num} cannot be read: {error}.", field="file", hint="Save the table as CSV, UTF-8."
        ) from error
    return {"format": CARDS_FORMAT, "version": 1, "cards": cards}


_FIGURES = {f.name for f in fields(SettingCard) if f.type in (int, float)}


def _cell(name: str, text: str) -> object:
    """As the schema wants it; what is no figure is left for the schema to refuse."""
    if name not in _FIGURES:
        return plain_again(text)
    try:
        value = int(text) if name in _WHOLE else float(text)
    except ValueError:
        return text
    return value if math.isfinite(value) else text


def _no_number(name: str) -> object:
    raise ValueError(f"{name} is no number in JSON (RFC 8259)")


def _card(facts: dict[str, Any], where: str) -> SettingCard:
    told = _UNSAID | {name: value for name, value in facts.items() if name in _COLUMNS}
    try:
        find_process(told["process"])
        _require_burnable(told["substrate"])
        card = SettingCard(**(told | {"art": Art(told["art"]), "beam": BeamSource(told["beam"])}))
        card.setting(), card.machine()
    except KeyError as error:
        raise BadValueError(f"{where}: {error}", field="file", hint="Leave this card out.") from error
    except BadValueError as error:
        raise BadValueError(f"{where}: {error.message}", field="file", hint=error.hint) from error
    if card.pieces_clean > card.pieces_seen:
        raise BadValueError(
            f"{where}: {card.pieces_clean} clean of {card.pieces_seen} pieces.", field="file", hint="Count them again."
        )
    if not card.clean_low <= card.clean <= card.clean_high:
        raise BadValueError(
            f"{where}: clean {card.clean:g} lies outside {card.clean_low:g} to {card.clean_high:g}.",
            field="file",
            hint="It lies between clean_low and clean_high.",
        )
    return card


def _require_burnable(substrate: str) -> None:
    reason = find_substrate(substrate).refused
    if reason:
        raise BadValueError(reason, hint="Never burn it.")


def _facts(card: SettingCard) -> dict[str, Any]:
    facts = asdict(card) | {"energy_j_mm2": round(card.energy_j_mm2(), 4)}
    return {name: value for name, value in facts.items() if name != "locked_on" or value}


def harmless(value: object) -> object:
    """A value for a table: text that a spreadsheet would take for a formula gets an apostrophe before it, and so does
    text that has one there already, so that `plain_again` gives back just what was."""
    return f"'{value}" if isinstance(value, str) and value.lstrip("'").startswith(_RISKY) else value


def plain_again(text: str) -> str:
    """What `harmless` was given.

    >>> [plain_again(str(harmless(text))) for text in ("=1", "'=1", "'tis", "''@", "plain")]
    ['=1', "'=1", "'tis", "''@", 'plain']
    """
    return text[1:] if text.startswith("'") and text.lstrip("'").startswith(_RISKY) else text
