"""What speaks against a setting card: by the rules that a job of one's own is held to, wherever the card comes from."""

from keencoat.core.coat import COATS, agents_named, assess, first_clash
from keencoat.core.exchange.cards import SettingCard
from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Finding, Severity
from keencoat.core.substrate import SUBSTRATES


def card_findings(card: SettingCard) -> list[Finding]:
    """Why nobody should burn as this card says; nothing where nothing speaks against it. A coat of another workshop's
    own is judged by the words for it."""
    coat = card.coat if card.coat in COATS else None
    found = [
        finding
        for finding in assess(card.substrate, card.beam, card.process, coat or "")
        if finding.severity is Severity.STOP
    ]
    clash = first_clash(SUBSTRATES[card.substrate], agents_named(card.coat_words)) if coat is None else None
    if clash is not None:
        found.append(
            Finding(
                FindingCode.COAT_UNSUITED,
                Severity.STOP,
                f"“{card.coat_words}” on {SUBSTRATES[card.substrate].label}: {clash.reason}",
                fix="Ask what is in it before any of it touches a piece.",
                source=clash.source,
            )
        )
    return found
