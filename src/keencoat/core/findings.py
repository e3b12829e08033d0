"""Findings: what a check says, the same on page, sheet and API."""

from dataclasses import dataclass, field
from enum import StrEnum

from keencoat.core.finding_codes import FindingCode


class Severity(StrEnum):
    """How much a finding weighs: `stop` forbids the step, `warn` asks for care, `note` informs."""

    STOP = "stop"
    WARN = "warn"
    NOTE = "note"


@dataclass(frozen=True)
class Finding:
    """One coded statement of a check, with its figures, what to do, and where the rule comes from."""

    code: FindingCode
    severity: Severity
    message: str
    fix: str = ""
    figures: dict[str, float] = field(default_factory=dict)
    source: str = ""


def forbids(findings: list[Finding]) -> bool:
    """Whether any finding stops the step."""
    return any(f.severity is Severity.STOP for f in findings)
