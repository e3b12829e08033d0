"""Things that are known of several burns or pieces, laid beside each other."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class Fact:
    """Something that is known of each, in words or as a figure with its unit; `differs` where it is not the same for
    all."""

    name: str
    unit: str
    values: tuple[str | float, ...]

    @property
    def differs(self) -> bool:
        """Whether any is another."""
        return len(set(self.values)) > 1


def facts_of(known: Sequence[Mapping[tuple[str, str], str | float]]) -> tuple[Fact, ...]:
    """What is known of each, by name and unit, as one fact a name; all have the same names."""
    return tuple(Fact(name, unit, tuple(one[name, unit] for one in known)) for name, unit in known[0])
