"""Photos with what was once measured in them: a rule of measuring that changes shows in figures that move."""

import json
import math
import os
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest

from keencoat.core.grid.design import design_listed
from keencoat.core.grid.layout import GridLayout, place
from keencoat.core.quantities.setting import Setting

HERE = Path(__file__).parent


@dataclass(frozen=True)
class Grid:
    """A grid in a photo: its process, and power, speed, line distance and passes of each cell."""

    process: str
    settings: list[tuple[float, float, float, int]]

    @property
    def layout(self) -> GridLayout:
        """Where its cells lie."""
        return place(design_listed([Setting(*s) for s in self.settings]), 6.0, 3.0)


def grid_of(process: str) -> Grid:
    """The grid in the photo of that process."""
    return Grid(**json.loads((HERE / f"grid-{process}.settings.json").read_text()))


def assert_as_kept(name: str, measured: dict[str, Any], rel: float = 5e-3) -> None:
    """Compare with what was kept; with KEENCOAT_KEEP=1 keep it instead."""
    file = HERE / f"{name}.json"
    measured = json.loads(json.dumps(measured, default=float))
    if os.environ.get("KEENCOAT_KEEP") == "1":
        file.write_text(laid_out(measured))
    _same(measured, json.loads(file.read_text()), name, rel)


def laid_out(figures: dict[str, Any]) -> str:
    """JSON with a line for each figure, or for each of several things that have the same ones."""
    lines = []
    for name, value in sorted(figures.items()):
        if isinstance(value, list) and value and isinstance(value[0], dict):
            value = "[\n  " + ",\n  ".join(json.dumps(one, sort_keys=True) for one in value) + "\n ]"
        else:
            value = json.dumps(value, sort_keys=True)
        lines.append(f" {json.dumps(name)}: {value}")
    return "{\n" + ",\n".join(lines) + "\n}\n"


def _same(one: Any, other: Any, where: str, rel: float) -> None:
    if isinstance(one, dict):
        assert sorted(one) == sorted(other), where
        for key in one:
            _same(one[key], other[key], f"{where}.{key}", rel)
    elif isinstance(one, list):
        assert len(one) == len(other), where
        for n, (a, b) in enumerate(zip(one, other, strict=True)):
            _same(a, b, f"{where}[{n}]", rel)
    elif isinstance(one, float) and isinstance(other, int | float) and math.isfinite(one):
        assert one == pytest.approx(other, rel=rel, abs=5e-4), where
    elif isinstance(one, int) and not isinstance(one, bool):
        # Another processor may put a spot on the other side of a limit.
        assert abs(one - other) <= 1, where
    else:
        assert one == other, where
