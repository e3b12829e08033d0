"""Shapes of what is kept as JSON: each carries its name and version, and older ones are made new as they are read.

To change a shape: raise its version in SHAPES, add the function that makes the version before into it, and keep a
sample of what is written now in tests/stored. Nothing that was stored is ever rewritten for it.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from keencoat.core.errors import KeenCoatError

Upgrade = Callable[[Any], Any]


class StoredShapeError(KeenCoatError):
    """Something that was stored has another shape than is looked for, or one that this version does not know yet."""


@dataclass(frozen=True)
class StoredShape:
    """A shape by its name. `upgrades[n]` makes a body of version n + 1 into one of version n + 2; it leaves out what
    the body leaves out, since parts of a body are read too."""

    name: str
    upgrades: tuple[Upgrade, ...] = ()

    @property
    def version(self) -> int:
        """The version that is written now, from 1."""
        return len(self.upgrades) + 1

    def pack(self, body: object) -> dict[str, object]:
        """A body as it is stored."""
        return {"schema": self.name, "version": self.version, "body": body}

    def unpack(self, stored: object) -> Any:  # noqa: ANN401 # JSON
        """The body of what was stored, as it would be written now.

        Raises StoredShapeError for another shape, and for a version that is newer than this code."""
        if not isinstance(stored, dict) or stored.get("schema") != self.name or "body" not in stored:
            raise StoredShapeError(
                f"A stored {self.name} is none.", hint="Restore a backup, or ask whoever keeps the server."
            )
        return self.renewed(stored["body"], stored.get("version"))

    def renewed(self, body: Any, version: object) -> Any:  # noqa: ANN401 # JSON
        """A body, or a part of one, of that version as it would be written now; raises StoredShapeError as `unpack`."""
        if not isinstance(version, int) or not 1 <= version <= self.version:
            raise StoredShapeError(
                f"A stored {self.name} has version {version}; this Keen Coat knows 1 to {self.version}.",
                hint="It was written by a newer Keen Coat: start that one.",
            )
        for upgrade in self.upgrades[version - 1 :]:
            body = upgrade(body)
        return body


def _read_by_art(evidence: dict[str, Any]) -> dict[str, Any]:
    """Version 1 had one setting, for filled art."""
    names = {"reading": "readings", "fit": "fits"}
    return {names.get(key, key): {"fills": value} if key in names else value for key, value in evidence.items()}


def _along(spec: dict[str, Any]) -> dict[str, Any]:
    """Version 1 knew no piece that lies turned on the bed."""
    return {"across": False} | spec


def _typed(spec: dict[str, Any]) -> dict[str, Any]:
    """Version 2 knew no typed text, no outlines drawn as lines, no drawing over several pieces."""
    return {"words": "", "outlines": False, "each_group": False} | spec


def _as_it_lies(likeness: dict[str, Any]) -> dict[str, Any]:
    """Version 1 told no more of how a whole mark lies than how far it was moved."""
    return {"askew_deg": None, "size_pct": None} | likeness


def _with_flaws(likeness: dict[str, Any]) -> dict[str, Any]:
    """Version 2 told how the mark lies and how light it is, not what is wrong with it."""
    return {"flaws": None} | likeness


def _untaxed(rates: dict[str, Any]) -> dict[str, Any]:
    """Version 1 knew no tax; a shop that said nothing has nothing."""
    return rates and {"tax_share": "0"} | rates


SHAPES = {
    shape.name: shape
    for shape in (
        StoredShape("amounts"),
        StoredShape("archive-report"),
        StoredShape("artwork-likeness", (_as_it_lies, _with_flaws)),
        StoredShape("artwork-spec", (_along, _typed)),
        StoredShape("coat-reading"),
        StoredShape("corners"),
        StoredShape("coat-facts"),
        StoredShape("cost-rates", (_untaxed,)),
        StoredShape("defects"),
        StoredShape("eyewear-bands"),
        StoredShape("face"),
        StoredShape("factors"),
        StoredShape("figures"),
        StoredShape("finish-ticks"),
        StoredShape("findings"),
        StoredShape("gate-ticks"),
        StoredShape("grid-heat"),
        StoredShape("grid-reading"),
        StoredShape("jig-crosses"),
        StoredShape("jig-spec"),
        StoredShape("job-cost"),
        StoredShape("lock-evidence", (_read_by_art,)),
        StoredShape("locked-settings"),
        StoredShape("machine"),
        StoredShape("money-slip"),
        StoredShape("order"),
        StoredShape("piece-log"),
        StoredShape("placing-spec"),
        StoredShape("practice-batch"),
        StoredShape("practice-faults"),
        StoredShape("range"),
        StoredShape("ratings-before"),
        StoredShape("setting"),
        StoredShape("setting-card"),
        StoredShape("spot-points"),
        StoredShape("spot-result"),
        StoredShape("test-answers"),
        StoredShape("trouble"),
    )
}
"""All shapes that the database keeps, by name."""
