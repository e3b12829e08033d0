"""What is done before serving."""

import os
from datetime import UTC, datetime, timedelta

import pytest

from keencoat.site.management.commands.prepare import drop_old_builds

NOW = datetime(2026, 3, 1, 12, tzinfo=UTC)


@pytest.mark.parametrize(
    ("name", "days", "stays"),
    [
        ("assets/Bench-new.js", 90, True),
        ("assets/Bench-new.js.gz", 90, True),
        ("assets/Bench-old.js", 1.9, True),
        ("assets/Bench-old.js", 2.1, False),
        ("assets/Bench-old.js.gz", 2.1, False),
    ],
)
def test_a_build_goes_two_days_after_the_next(tmp_path, name, days, stays):
    built, file = tmp_path / "dist", tmp_path / "static" / name
    for at in (built / "assets/Bench-new.js", file):
        at.parent.mkdir(parents=True, exist_ok=True)
        at.write_text("export {}")
    copied = (NOW - timedelta(days=days)).timestamp()
    os.utime(file, (copied, copied))
    drop_old_builds(tmp_path / "static", built, NOW)
    assert file.exists() is stays
