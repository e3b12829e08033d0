"""Setting cards on paper: to be cut out, or as one sheet for the wall."""

from collections.abc import Sequence
from itertools import groupby

from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, KeepTogether, Spacer, Table, TableStyle

from keencoat.core.exchange import SettingCard, card_findings
from keencoat.core.quantities import show
from keencoat.core.substrate import PROCESSES, SUBSTRATES
from keencoat.jobs.paper import BIG_FIGURE, FIGURE, HEAD, SMALL, STRONG, TITLE, print_pages, text

_FOOT = (
    "Settings of this workshop's own machines and coats. Elsewhere each is a first guess: burn a test grid. "
    "Eyewear for the wavelength, extraction on, never leave it alone. Local codes come first."
)
_ACROSS, _CARD_MM, _HIGH_MM = 2, 87, 60
_LINE, _SOFT = HexColor("#d9d6cc"), HexColor("#9a968a")
_EVIDENCE = {
    "guess": "a guess: nothing burned",
    "grid": "from a test grid",
    "confirmed": "confirmed by a full patch",
    "proven": "proven by whole pieces",
}


def _known(card: SettingCard) -> str:
    counted = f"{card.pieces_clean} of {card.pieces_seen} pieces clean, " if card.pieces_seen else ""
    expected = f"{100 * card.clean_low:.0f} to {100 * card.clean_high:.0f}\u00a0%"
    return f"{counted}{_EVIDENCE[card.evidence]}; expected {expected}"


def _cautions(card: SettingCard) -> list[Flowable]:
    return [text(f"Do not burn this: {finding.message}", STRONG) for finding in card_findings(card)]


def _lines(card: SettingCard, interval_unit: str) -> str:
    return show(card.interval_mm, interval_unit) + (f", {card.passes} passes" if card.passes > 1 else "")


def _coat(card: SettingCard) -> str:
    return f"{card.coat_words}, {card.coats} coat{'s' if card.coats > 1 else ''}"


def _for(card: SettingCard) -> str:
    return PROCESSES[card.process].label + (", fine strokes" if card.art == "strokes" else "")


def cards_pdf(cards: Sequence[SettingCard], units: tuple[str, str]) -> bytes:
    """Cards to cut out, eight on a page, as PDF bytes; speed and interval in `units`."""
    cells = [_card(card, units) for card in cards]
    cells += [[]] * (-len(cells) % _ACROSS)
    rows = [cells[i : i + _ACROSS] for i in range(0, len(cells), _ACROSS)]
    style = TableStyle(
        [
            ("GRID", (0, 0), (-1, -1), 0.4, _SOFT, None, (2, 3)),
            ("VALIGN", (0, 0), (-1, -1), "TOP"),
            ("LEFTPADDING", (0, 0), (-1, -1), 8),
            ("TOPPADDING", (0, 0), (-1, -1), 7),
        ]
    )
    table = Table(rows, colWidths=[_CARD_MM * mm] * _ACROSS, rowHeights=[_HIGH_MM * mm] * len(rows), style=style)
    return print_pages("Setting cards", _FOOT, [table])


def _card(card: SettingCard, units: tuple[str, str]) -> list[Flowable]:
    return [
        text(SUBSTRATES[card.substrate].label, STRONG),
        *_cautions(card),
        text(f"{_for(card)}; {_coat(card)}", SMALL),
        Spacer(0, 2 * mm),
        text(f"{card.power_pct:g} %, {show(card.speed_mm_s, units[0])}", BIG_FIGURE),
        text(f"{_lines(card, units[1])}, {card.energy_j_mm2():.2f} J/mm²", FIGURE),
        Spacer(0, 2 * mm),
        text(f"{card.machine_words} ({card.beam.label}, {card.rated_w:g} W, spot {card.spot_mm:g} mm)", SMALL),
        text(_known(card), SMALL),
        text(", ".join(word for word in (card.title, card.workshop, card.locked_on) if word), SMALL),
    ]


def wall_pdf(cards: Sequence[SettingCard], workshop: str, units: tuple[str, str]) -> bytes:
    """One sheet for the wall, by substrate and process, as PDF bytes; speed and interval in `units`."""
    story: list[Flowable] = [text(f"Settings, {workshop}", TITLE), Spacer(0, 3 * mm)]
    style = TableStyle(
        [
            ("VALIGN", (0, 0), (-1, -1), "TOP"),
            ("LINEBELOW", (0, 0), (-1, -1), 0.3, _LINE),
            ("LEFTPADDING", (0, 0), (-1, -1), 0),
            ("RIGHTPADDING", (0, 0), (-1, -1), 8),
            ("TOPPADDING", (0, 0), (-1, -1), 3),
            ("BOTTOMPADDING", (0, 0), (-1, -1), 3),
        ]
    )
    ordered = sorted(cards, key=lambda c: (SUBSTRATES[c.substrate].label, _for(c), c.coat_words))
    for heading, group in groupby(ordered, key=lambda c: f"{SUBSTRATES[c.substrate].label}: {_for(c)}"):
        rows = [_wall_row(card, units) for card in group]
        table = Table(rows, colWidths=[52 * mm, 56 * mm, 64 * mm], style=style)
        story.append(KeepTogether([text(heading, HEAD), table]))
    return print_pages(f"Settings, {workshop}", _FOOT, story)


def _wall_row(card: SettingCard, units: tuple[str, str]) -> list[object]:
    setting = [
        text(f"{card.power_pct:g} %, {show(card.speed_mm_s, units[0])}", BIG_FIGURE),
        text(f"{_lines(card, units[1])}, {card.energy_j_mm2():.2f} J/mm²", FIGURE),
    ]
    known = [text(_known(card), SMALL), text(", ".join(w for w in (card.title, card.workshop) if w), SMALL)]
    return [[text(_coat(card), STRONG), *_cautions(card), text(card.machine_words, SMALL)], known, setting]
