"""What goes out to other workshops and comes in from them.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.exchange.cards import (
    MAX_CARDS_BYTES,
    SettingCard,
    cards_schema,
    harmless,
    read_cards,
    write_cards,
    write_cards_csv,
)
from keencoat.core.exchange.cautions import card_findings

__all__ = [
    "MAX_CARDS_BYTES",
    "SettingCard",
    "card_findings",
    "cards_schema",
    "harmless",
    "read_cards",
    "write_cards",
    "write_cards_csv",
]
