"""What is otherwise than with the last good piece: said plainly, and left to the reader to judge."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime

from keencoat.core.quantities import Setting

_COOLER_K, _WETTER_PCT, _LATER_H = 3.0, 10.0, 4.0


@dataclass(frozen=True)
class Circumstances:
    """How a piece was made: the lots of its coats, when the last one went on, when and in which air it burned, with
    which setting of which artwork on which machine; None where nobody knows."""

    number: int
    lots: tuple[str, ...]
    coated_at: datetime | None
    burned_at: datetime | None
    air_c: float | None
    humidity_pct: float | None
    setting: Setting
    artwork: str
    machine: str

    @property
    def stood_h(self) -> float | None:
        """Hours between the last coat and the burn."""
        if self.coated_at is None or self.burned_at is None:
            return None
        return (self.burned_at - self.coated_at).total_seconds() / 3600


def since_good(piece: Circumstances, good: Circumstances) -> Iterator[str]:
    """What differs, in words; first what changed, then what did not."""
    if piece.lots != good.lots:
        yield f"lot {', '.join(piece.lots) or 'not told'}, not {', '.join(good.lots) or 'told'}"
    if piece.air_c is not None and good.air_c is not None and abs(piece.air_c - good.air_c) >= _COOLER_K:
        by = piece.air_c - good.air_c
        yield f"{abs(by):.0f} K {'warmer' if by > 0 else 'cooler'}"
    if piece.humidity_pct is not None and good.humidity_pct is not None:
        by = piece.humidity_pct - good.humidity_pct
        if abs(by) >= _WETTER_PCT:
            yield f"{abs(by):.0f} points {'damper' if by > 0 else 'drier'} air"
    stood, stood_then = piece.stood_h, good.stood_h
    if stood is not None and stood_then is not None and abs(stood - stood_then) >= _LATER_H:
        longer = "longer" if stood > stood_then else "shorter"
        yield f"its coat stood {abs(stood - stood_then):.0f} h {longer}"
    for name, mine, theirs in (
        ("setting", piece.setting, good.setting),
        ("artwork", piece.artwork, good.artwork),
        ("machine", piece.machine, good.machine),
    ):
        yield f"the same {name}" if mine == theirs else f"another {name}"
