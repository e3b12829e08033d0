"""Codes of findings: each listed for readers, each used, none doubled."""

import pickle
import re
from pathlib import Path

from keencoat.core.finding_codes import FindingCode

ROOT = Path(__file__).parents[2]


def test_every_code_is_listed_with_its_meaning_and_stands_in_some_check():
    listed = dict(re.findall(r"^\| `([a-z-]+)` \| (.+) \|$", (ROOT / "docs/findings.md").read_text(), re.M))
    assert listed == {str(code): code.meaning for code in FindingCode}
    core = "".join(p.read_text() for p in (ROOT / "src/keencoat/core").rglob("*.py") if p.name != "finding_codes.py")
    assert [code.name for code in FindingCode if f"FindingCode.{code.name}" not in core] == []


def test_a_code_is_its_own_text_in_files_and_in_other_processes():
    code = FindingCode("coat-bare")
    assert code == "coat-bare"
    assert f"{code}" == "coat-bare"
    assert pickle.loads(pickle.dumps(code)) is code
